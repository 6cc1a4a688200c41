/** Outline of a toothed pulley in millimetres about its axis. The groove follows pitch, tooth height and flank angle; fillets are left out. */

export interface Toothed {
  teeth: number;
  pitchRadius: number;
  outsideRadius: number;
  pitch: number;
  toothHeight: number;
  flankDeg: number | null;
}

/** Half width of a groove at the pulley's rim and at its bottom; round teeth are drawn with steep flanks and a round bottom. */
export function groove(t: Toothed): { rim: number; bottom: number } {
  const rim = t.pitch * 0.3;
  const bottom =
    t.flankDeg === null
      ? rim * 0.72
      : Math.max(rim - t.toothHeight * Math.tan((t.flankDeg * Math.PI) / 360), rim * 0.25);
  return { rim, bottom };
}

const drawn = new Map<string, string>();

/** The outline as an SVG path; the same wheel is drawn again with every move, so it is worked out once. */
export function pulleyOutline(t: Toothed): string {
  const key = `${t.teeth} ${t.pitchRadius} ${t.outsideRadius} ${t.pitch} ${t.toothHeight} ${t.flankDeg}`;
  let path = drawn.get(key);
  if (path === undefined) {
    if (drawn.size > 500) drawn.clear();
    drawn.set(key, (path = outline(t)));
  }
  return path;
}

function outline(t: Toothed): string {
  const { rim, bottom } = groove(t);
  const root = t.outsideRadius - t.toothHeight;
  const at = (radius: number, angle: number) =>
    `${(radius * Math.cos(angle)).toFixed(3)} ${(radius * Math.sin(angle)).toFixed(3)}`;
  const parts: string[] = [];
  for (let k = 0; k < t.teeth; k++) {
    const middle = (2 * Math.PI * k) / t.teeth;
    const a = rim / t.outsideRadius;
    const b = bottom / root;
    parts.push(`${k === 0 ? "M" : "L"}${at(t.outsideRadius, middle - a)}L${at(root, middle - b)}`);
    parts.push(
      t.flankDeg === null
        ? `Q${at(root - t.toothHeight * 0.15, middle)} ${at(root, middle + b)}`
        : `L${at(root, middle + b)}`,
    );
    parts.push(`L${at(t.outsideRadius, middle + a)}`);
    const next = (2 * Math.PI * (k + 1)) / t.teeth - a;
    parts.push(`A${t.outsideRadius} ${t.outsideRadius} 0 0 1 ${at(t.outsideRadius, next)}`);
  }
  return `${parts.join("")}Z`;
}
