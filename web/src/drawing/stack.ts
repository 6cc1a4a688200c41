/** Lays pieces end to end: where each one begins. */
export function stacked(lengths: readonly number[]): number[] {
  const starts: number[] = [];
  lengths.reduce((from, length) => (starts.push(from), from + length), 0);
  return starts;
}
