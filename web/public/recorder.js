// Runs beside the page's own work: passes on what the microphone hears, block by block.
class Recorder extends AudioWorkletProcessor {
  process([input]) {
    if (input[0]) this.port.postMessage(input[0].slice());
    return true;
  }
}
registerProcessor("recorder", Recorder);
