/** The microphone: opened, kept for the last seconds, given out as a sound file; nothing leaves the machine. */

const KEEPS_S = 4;
/** As much as the reader works at; a browser that cannot resample a microphone gives what it has. */
const RATE = 16_000;
/** A block so much louder than those before it may be a pluck: a reason to ask, no more. */
const LEAP = 3;
const FADES = 0.98;
const APART_S = 0.25;

export class Recorder {
  private blocks: Float32Array[] = [];
  private held = 0;
  /** Samples since it was opened. */
  heard = 0;
  /** What had been heard when it last became louder. */
  leapt = 0;
  private loud = 0;

  private constructor(
    private context: AudioContext,
    private stream: MediaStream,
  ) {}

  /** Why no microphone can be had is what it throws, in words. */
  static async open(): Promise<Recorder> {
    // Without a secure address a browser does not even offer it.
    const devices = (navigator as { mediaDevices?: MediaDevices }).mediaDevices;
    if (!devices)
      throw new Error("This page may not use a microphone. Record with any device, and open the file.");
    const plain = { echoCancellation: false, noiseSuppression: false, autoGainControl: false };
    const stream = await devices.getUserMedia({ audio: plain }).catch((error: unknown) => {
      throw new Error(refused(error instanceof DOMException ? error.name : ""));
    });
    for (const options of [{ sampleRate: RATE }, {}]) {
      const context = new AudioContext(options);
      const recorder = new Recorder(context, stream);
      try {
        await context.audioWorklet.addModule("/recorder.js");
        const node = new AudioWorkletNode(context, "recorder", { numberOfOutputs: 0 });
        context.createMediaStreamSource(stream).connect(node);
        node.port.onmessage = ({ data }: MessageEvent<Float32Array>) => recorder.take(data);
        return recorder;
      } catch {
        void context.close();
      }
    }
    stream.getTracks().forEach((track) => track.stop());
    throw new Error("This browser cannot record here. Record with any device, and open the file.");
  }

  private take(block: Float32Array) {
    const power = block.reduce((sum, s) => sum + s * s, 0) / block.length;
    if (this.heard - this.leapt > APART_S * this.rate && power > LEAP * this.loud) this.leapt = this.heard;
    this.loud = FADES * this.loud + (1 - FADES) * power;
    this.blocks.push(block);
    this.held += block.length;
    this.heard += block.length;
    while (this.held - this.blocks[0]!.length > KEEPS_S * this.context.sampleRate)
      this.held -= this.blocks.shift()!.length;
  }

  get rate() {
    return this.context.sampleRate;
  }

  /** The last seconds, as a WAV file of 16 bits. */
  file(): Blob {
    const samples = new Int16Array(this.held);
    let at = 0;
    for (const block of this.blocks)
      for (const s of block) samples[at++] = Math.round(Math.max(-1, Math.min(1, s)) * 32767);
    return wav(samples, this.rate);
  }

  close() {
    this.stream.getTracks().forEach((track) => track.stop());
    void this.context.close();
  }
}

function refused(name: string): string {
  if (name === "NotAllowedError")
    return "The browser was told not to use the microphone. Allow it at the page's address, or open a sound file.";
  if (name === "NotFoundError") return "There is no microphone. Plug one in, or open a sound file.";
  return "The microphone does not start: another program may hold it. Free it, or open a sound file.";
}

/** A WAV file, one channel of 16 bits. */
function wav(samples: Int16Array, rate: number): Blob {
  const head = new DataView(new ArrayBuffer(44));
  const words = (at: number, text: string) =>
    [...text].forEach((c, i) => head.setUint8(at + i, c.charCodeAt(0)));
  words(0, "RIFF");
  head.setUint32(4, 36 + samples.byteLength, true);
  words(8, "WAVEfmt ");
  head.setUint32(16, 16, true);
  head.setUint16(20, 1, true);
  head.setUint16(22, 1, true);
  head.setUint32(24, rate, true);
  head.setUint32(28, rate * 2, true);
  head.setUint16(32, 2, true);
  head.setUint16(34, 16, true);
  words(36, "data");
  head.setUint32(40, samples.byteLength, true);
  return new Blob([head, samples as Int16Array<ArrayBuffer>], { type: "audio/wav" });
}

/** The bytes of a file as base64, as they go to the program. */
export async function base64(file: Blob): Promise<string> {
  const url = await new Promise<string>((done, fail) => {
    const reader = new FileReader();
    reader.onload = () => done(reader.result as string);
    reader.onerror = () => fail(new Error("The file cannot be read."));
    reader.readAsDataURL(file);
  });
  return url.slice(url.indexOf(",") + 1);
}
