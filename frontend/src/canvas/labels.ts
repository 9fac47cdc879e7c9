/** Where labels go so that none lies on another: each as near to what it names as there is room. */

export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

export interface Label {
  id: string;
  /** Where it would go alone: its upper left corner, pixels. */
  wanted: readonly [x: number, y: number];
  width: number;
  height: number;
}

export interface Placed extends Box {
  /** Whether it had to go so far away that a line has to lead to what it names. */
  led: boolean;
}

/** Ways to move aside, in steps around where it would go; nearer ones first. */
const AROUND = [
  [0, 0],
  [0, 1],
  [0, -1],
  [1, 0],
  [-1, 0],
  [1, 1],
  [-1, 1],
  [1, -1],
  [-1, -1],
  [0.5, 1],
  [-0.5, 1],
  [0.5, -1],
  [-0.5, -1],
] as const;
const RINGS = [0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12];
/** Width of a letter of figures on the drawing, pixels. Estimate, checked by the test of labels. */
export const LETTER_PX = 6.9;
/** A step aside, pixels: about half a line. Labels keep this far apart. */
const STEP_PX = 9;
const APART_PX = 2;
/** From this far on a line leads to what is named. */
const LED_PX = 12;

/** Area two boxes share, with the gap they keep. */
export function shared(a: Box, b: Box, apart = APART_PX): number {
  const wide = Math.min(a.x + a.width, b.x + b.width) - Math.max(a.x, b.x) + apart;
  const high = Math.min(a.y + a.height, b.y + b.height) - Math.max(a.y, b.y) + apart;
  return wide > 0 && high > 0 ? wide * high : 0;
}

const inside = (box: Box, bounds: Box): Box => ({
  ...box,
  x: Math.min(Math.max(box.x, bounds.x), Math.max(bounds.x, bounds.x + bounds.width - box.width)),
  y: Math.min(Math.max(box.y, bounds.y), Math.max(bounds.y, bounds.y + bounds.height - box.height)),
});

/**
 * Places for labels, the most important first; what is taken already stays free. A label finds room up, down or
 * aside in widening rings; where there is none it goes where it hides least.
 */
export function placed(
  labels: readonly Label[],
  bounds: Box,
  taken: readonly Box[] = [],
): Map<string, Placed> {
  const found = new Map<string, Placed>();
  const used: Box[] = [...taken];
  for (const { id, wanted, width, height } of labels) {
    // What it names is out of sight.
    if (shared({ x: wanted[0], y: wanted[1], width, height }, bounds, 0) === 0) continue;
    let best: Box | null = null;
    let hidden = Number.POSITIVE_INFINITY;
    for (const ring of RINGS) {
      for (const [right, down] of ring === 0 ? AROUND.slice(0, 1) : AROUND.slice(1)) {
        const box = inside(
          {
            x: wanted[0] + ring * right * 2 * STEP_PX,
            y: wanted[1] + ring * down * STEP_PX,
            width,
            height,
          },
          bounds,
        );
        const over = used.reduce((sum, other) => sum + shared(box, other), 0);
        if (over < hidden) [best, hidden] = [box, over];
        if (hidden === 0) break;
      }
      if (hidden === 0) break;
    }
    if (!best) continue;
    used.push(best);
    const moved = Math.hypot(best.x - wanted[0], best.y - wanted[1]);
    found.set(id, { ...best, led: moved > LED_PX });
  }
  return found;
}

/** The point of a box nearest to another point: where a line from there ends. */
export const nearest = (box: Box, [x, y]: readonly [number, number]): [number, number] => [
  Math.min(Math.max(x, box.x), box.x + box.width),
  Math.min(Math.max(y, box.y), box.y + box.height),
];

/** The box of those given that hides least of what is taken; the first of equals. */
export function freest(boxes: readonly Box[], taken: readonly Box[]): Box {
  let [best, hidden] = [boxes[0] as Box, Number.POSITIVE_INFINITY];
  for (const box of boxes) {
    const over = taken.reduce((sum, other) => sum + shared(box, other), 0);
    if (over < hidden) [best, hidden] = [box, over];
  }
  return best;
}
