/** Words on a drawing: each beside its place where nothing is in the way, with a leader where it stands further off. */

export interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}
export type Segment = readonly [number, number, number, number];
export interface Ring {
  x: number;
  y: number;
  r: number;
}

export interface Label {
  text: string;
  /** Middle of the words. */
  x: number;
  y: number;
  size: number;
  leader: Segment | null;
}

/** Of the font that figures and drawings are set in, the width of a letter over its size. */
const LETTER = 0.61;
const AIR = 3;
const RINGS = [0, 14, 28, 46, 66, 90, 118, 150];
const WAYS: readonly (readonly [number, number])[] = [
  [0, -1],
  [0, 1],
  [1, -1],
  [-1, -1],
  [1, 0],
  [-1, 0],
  [1, 1],
  [-1, 1],
  [1, -0.45],
  [-1, -0.45],
  [1, 0.45],
  [-1, 0.45],
  [0.5, -1],
  [-0.5, -1],
  [0.5, 1],
  [-0.5, 1],
];

export const widthOf = (text: string, size: number) => text.length * size * LETTER;

export function boxOf(text: string, x: number, y: number, size: number): Box {
  const half = widthOf(text, size) / 2;
  return { left: x - half, right: x + half, top: y - size * 0.6, bottom: y + size * 0.6 };
}

export const meet = (a: Box, b: Box) =>
  a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom;

/** Whether a straight line passes through a box (the line is clipped at each side in turn). */
export function crosses([x0, y0, x1, y1]: Segment, box: Box): boolean {
  let [from, to] = [0, 1];
  const [dx, dy] = [x1 - x0, y1 - y0];
  for (const [p, q] of [
    [-dx, x0 - box.left],
    [dx, box.right - x0],
    [-dy, y0 - box.top],
    [dy, box.bottom - y0],
  ] as const) {
    if (p === 0) {
      if (q < 0) return false;
      continue;
    }
    const r = q / p;
    if (p < 0) from = Math.max(from, r);
    else to = Math.min(to, r);
  }
  return from <= to;
}

/** Whether the line of a circle passes through a box; one that lies whole within it counts too. */
export function rings({ x, y, r }: Ring, box: Box): boolean {
  const near = Math.hypot(
    x - Math.min(Math.max(x, box.left), box.right),
    y - Math.min(Math.max(y, box.top), box.bottom),
  );
  return near < r;
}

/** The paper of one drawing: what stands on it, and where there is room. */
export class Paper {
  private taken: Box[] = [];

  constructor(
    private readonly sheet: Box,
    private readonly lines: readonly Segment[],
    private readonly circles: readonly Ring[],
  ) {}

  free(box: Box): boolean {
    const { left, top, right, bottom } = this.sheet;
    const wide = { left: box.left - AIR, right: box.right + AIR, top: box.top - 1, bottom: box.bottom + 1 };
    return (
      box.left >= left &&
      box.right <= right &&
      box.top >= top &&
      box.bottom <= bottom &&
      !this.taken.some((t) => meet(t, wide)) &&
      !this.lines.some((l) => crosses(l, wide)) &&
      !this.circles.some((c) => rings(c, wide))
    );
  }

  take(box: Box): void {
    this.taken.push(box);
  }

  /** Words at one of these places, the first that is free. */
  at(text: string, size: number, places: readonly (readonly [number, number])[]): Label | null {
    for (const [x, y] of places) {
      const box = boxOf(text, x, y, size);
      if (!this.free(box)) continue;
      this.take(box);
      return { text, x, y, size, leader: null };
    }
    return null;
  }

  /** Words beside a thing of a radius: close to it where there is room, else further off with a leader. */
  beside(text: string, size: number, thing: Ring): Label | null {
    const half = widthOf(text, size) / 2;
    for (const ring of RINGS) {
      for (const [wx, wy] of WAYS) {
        const far = thing.r + ring + AIR + 1;
        const x = thing.x + wx * (far + (Math.abs(wx) === 1 ? half : 0));
        const y = thing.y + wy * (far + size * 0.6);
        const box = boxOf(text, x, y, size);
        if (!this.free(box)) continue;
        const leader = ring === 0 ? null : toward(thing, box);
        if (leader && this.taken.some((t) => crosses(leader, t))) continue;
        this.take(box);
        return { text, x, y, size, leader };
      }
    }
    return null;
  }
}

/** From the edge of a thing to the nearest point of a box. */
function toward({ x, y, r }: Ring, box: Box): Segment {
  const tx = Math.min(Math.max(x, box.left), box.right);
  const ty = Math.min(Math.max(y, box.top), box.bottom);
  const far = Math.hypot(tx - x, ty - y) || 1;
  return [x + ((tx - x) / far) * r, y + ((ty - y) / far) * r, tx, ty];
}

/** Spreads words and dimension lines that share a side of a drawing over as many rows as they need, the first row nearest to it. */
export function inRows<T extends { left: number; right: number; row: number }>(things: readonly T[]): T[] {
  const placed: T[] = [];
  for (const thing of [...things].sort((a, b) => a.row - b.row)) {
    let row = thing.row;
    const clash = (r: number) =>
      placed.some((p) => p.row === r && p.left < thing.right + AIR && thing.left < p.right + AIR);
    while (clash(row)) row += 1;
    placed.push({ ...thing, row });
  }
  return placed;
}
