/**
 * Plain outlines of animals, to scale and inside the glass. Lengths are in body lengths, 0 at the vent and 1 at the
 * snout, so that tails lie below 0; heights in heights of the back; breadths in body lengths.
 */

export type Group =
  | "lizard"
  | "gecko"
  | "snake"
  | "tortoise"
  | "turtle"
  | "frog"
  | "salamander"
  | "invertebrate";

/** Commands of an SVG path with absolute points. */
export type Outline = readonly (readonly [command: "M" | "L" | "C" | "Z", ...points: number[]])[];

interface Silhouette {
  side: Outline;
  above: Outline;
}

const LIZARD: Silhouette = {
  side: [
    ["M", 1.03, 0.62],
    ["C", 1.0, 0.92, 0.9, 1.08, 0.81, 0.95],
    ["C", 0.74, 0.85, 0.69, 0.92, 0.6, 1.0],
    ["C", 0.45, 1.11, 0.26, 1.02, 0.13, 0.72],
    ["C", -0.08, 0.43, -0.5, 0.2, -1.2, 0.05],
    ["C", -0.6, -0.02, -0.2, 0.07, 0.06, 0.26],
    ["L", 0.0, 0],
    ["L", 0.13, 0],
    ["L", 0.19, 0.3],
    ["C", 0.32, 0.21, 0.5, 0.23, 0.62, 0.33],
    ["L", 0.58, 0],
    ["L", 0.71, 0],
    ["L", 0.74, 0.38],
    ["C", 0.84, 0.43, 0.97, 0.39, 1.03, 0.62],
    ["Z"],
  ],
  above: [
    ["M", 1.03, 0],
    ["C", 1.0, 0.09, 0.88, 0.12, 0.8, 0.1],
    ["C", 0.72, 0.08, 0.68, 0.09, 0.6, 0.12],
    ["C", 0.42, 0.17, 0.2, 0.14, 0.1, 0.07],
    ["C", -0.1, 0.04, -0.6, 0.02, -1.2, 0],
    ["C", -0.6, -0.02, -0.1, -0.04, 0.1, -0.07],
    ["C", 0.2, -0.14, 0.42, -0.17, 0.6, -0.12],
    ["C", 0.68, -0.09, 0.72, -0.08, 0.8, -0.1],
    ["C", 0.88, -0.12, 1.0, -0.09, 1.03, 0],
    ["Z"],
  ],
};

/** Large head, thick tail. */
const GECKO: Silhouette = {
  side: [
    ["M", 1.04, 0.55],
    ["C", 1.02, 1.0, 0.86, 1.15, 0.76, 0.92],
    ["C", 0.6, 0.98, 0.3, 1.05, 0.14, 0.72],
    ["C", 0.0, 0.6, -0.3, 0.75, -0.78, 0.1],
    ["C", -0.4, 0.02, -0.1, 0.1, 0.06, 0.28],
    ["L", 0.0, 0],
    ["L", 0.14, 0],
    ["L", 0.2, 0.28],
    ["L", 0.6, 0.3],
    ["L", 0.56, 0],
    ["L", 0.7, 0],
    ["L", 0.73, 0.32],
    ["C", 0.85, 0.3, 1.02, 0.28, 1.04, 0.55],
    ["Z"],
  ],
  above: [
    ["M", 1.04, 0],
    ["C", 1.03, 0.12, 0.86, 0.17, 0.76, 0.07],
    ["C", 0.5, 0.15, 0.25, 0.13, 0.1, 0.06],
    ["C", -0.1, 0.05, -0.35, 0.11, -0.78, 0],
    ["C", -0.35, -0.11, -0.1, -0.05, 0.1, -0.06],
    ["C", 0.25, -0.13, 0.5, -0.15, 0.76, -0.07],
    ["C", 0.86, -0.17, 1.03, -0.12, 1.04, 0],
    ["Z"],
  ],
};

/** A shell with a head before it. */
const SHELLED: Silhouette = {
  side: [
    ["M", 0.0, 0.28],
    ["C", 0.02, 0.85, 0.25, 1.0, 0.5, 1.0],
    ["C", 0.75, 1.0, 0.95, 0.85, 0.98, 0.4],
    ["C", 1.04, 0.62, 1.2, 0.62, 1.2, 0.42],
    ["C", 1.18, 0.28, 1.05, 0.26, 0.95, 0.22],
    ["L", 0.94, 0],
    ["L", 0.76, 0],
    ["L", 0.74, 0.2],
    ["L", 0.28, 0.2],
    ["L", 0.26, 0],
    ["L", 0.08, 0],
    ["L", 0.07, 0.2],
    ["L", -0.08, 0.14],
    ["Z"],
  ],
  above: [
    ["M", 1.2, 0],
    ["C", 1.2, 0.07, 1.05, 0.09, 0.98, 0.06],
    ["C", 0.95, 0.36, 0.7, 0.4, 0.5, 0.4],
    ["C", 0.2, 0.4, 0.0, 0.3, 0.0, 0.0],
    ["C", 0.0, -0.3, 0.2, -0.4, 0.5, -0.4],
    ["C", 0.7, -0.4, 0.95, -0.36, 0.98, -0.06],
    ["C", 1.05, -0.09, 1.2, -0.07, 1.2, 0],
    ["Z"],
  ],
};

/** Sitting, its hind leg folded. */
const FROG: Silhouette = {
  side: [
    ["M", 1.0, 0.72],
    ["C", 0.98, 1.0, 0.82, 1.06, 0.7, 0.98],
    ["C", 0.45, 0.92, 0.15, 0.7, 0.02, 0.3],
    ["L", 0.0, 0],
    ["L", 0.48, 0],
    ["C", 0.5, 0.2, 0.52, 0.24, 0.62, 0.26],
    ["L", 0.66, 0],
    ["L", 0.84, 0],
    ["L", 0.78, 0.4],
    ["C", 0.9, 0.46, 1.0, 0.55, 1.0, 0.72],
    ["Z"],
  ],
  above: [
    ["M", 1.0, 0],
    ["C", 0.98, 0.2, 0.75, 0.24, 0.6, 0.2],
    ["C", 0.5, 0.2, 0.45, 0.34, 0.15, 0.3],
    ["C", 0.05, 0.25, 0.02, 0.1, 0.02, 0],
    ["C", 0.02, -0.1, 0.05, -0.25, 0.15, -0.3],
    ["C", 0.45, -0.34, 0.5, -0.2, 0.6, -0.2],
    ["C", 0.75, -0.24, 0.98, -0.2, 1.0, 0],
    ["Z"],
  ],
};

/** Long and low, short legs, a tail as high as the body. */
const SALAMANDER: Silhouette = {
  side: [
    ["M", 1.0, 0.5],
    ["C", 0.98, 0.9, 0.84, 0.96, 0.74, 0.88],
    ["C", 0.5, 1.03, 0.2, 1.0, 0.05, 0.85],
    ["C", -0.3, 0.8, -0.6, 0.5, -0.85, 0.2],
    ["C", -0.5, 0.1, -0.2, 0.2, 0.02, 0.26],
    ["L", 0.0, 0],
    ["L", 0.1, 0],
    ["L", 0.14, 0.22],
    ["L", 0.66, 0.22],
    ["L", 0.64, 0],
    ["L", 0.74, 0],
    ["L", 0.77, 0.26],
    ["C", 0.9, 0.28, 1.0, 0.34, 1.0, 0.5],
    ["Z"],
  ],
  above: [
    ["M", 1.0, 0],
    ["C", 0.98, 0.09, 0.85, 0.1, 0.76, 0.06],
    ["C", 0.5, 0.1, 0.2, 0.09, 0.05, 0.05],
    ["C", -0.2, 0.04, -0.6, 0.03, -0.85, 0],
    ["C", -0.6, -0.03, -0.2, -0.04, 0.05, -0.05],
    ["C", 0.2, -0.09, 0.5, -0.1, 0.76, -0.06],
    ["C", 0.85, -0.1, 0.98, -0.09, 1.0, 0],
    ["Z"],
  ],
};

/** Spiders, scorpions, insects and millipedes have too little in common for more than their size. */
const SMALL: Silhouette = {
  side: [
    ["M", 0.0, 0.35],
    ["C", 0.0, 1.1, 0.45, 1.1, 0.5, 0.75],
    ["C", 0.55, 1.0, 0.98, 0.9, 1.0, 0.4],
    ["C", 0.9, 0.15, 0.6, 0.2, 0.5, 0.25],
    ["C", 0.4, 0.1, 0.1, 0.1, 0.0, 0.35],
    ["Z"],
  ],
  above: [
    ["M", 1.0, 0],
    ["C", 0.98, 0.2, 0.6, 0.22, 0.5, 0.06],
    ["C", 0.4, 0.3, 0.0, 0.25, 0.0, 0],
    ["C", 0.0, -0.25, 0.4, -0.3, 0.5, -0.06],
    ["C", 0.6, -0.22, 0.98, -0.2, 1.0, 0],
    ["Z"],
  ],
};

const SILHOUETTES: Record<Exclude<Group, "snake">, Silhouette> = {
  lizard: LIZARD,
  gecko: GECKO,
  tortoise: SHELLED,
  turtle: SHELLED,
  frog: FROG,
  salamander: SALAMANDER,
  invertebrate: SMALL,
};

/** The outline of a group; what is not known is drawn as a lizard, a snake lies in coils and has none. */
export function silhouette(group: string | undefined): Silhouette {
  return group !== undefined && group in SILHOUETTES
    ? SILHOUETTES[group as Exclude<Group, "snake">]
    : LIZARD;
}

/** Where an animal is drawn: its vent, which way it looks, and how much of its tail's length is seen. */
export interface Pose {
  vent: number;
  way: 1 | -1;
  tail: number;
}

/**
 * How an animal lies between two walls, the middle of its body at a place or as near as it fits. It turns round
 * where its tail has more room on the other side; a tail longer than that is bent, and seen shorter.
 */
export function poseBetween(
  outline: Outline,
  at: number,
  bodyLength: number,
  low: number,
  high: number,
): Pose {
  const along = outline.flatMap(([, ...points]) => points.filter((_, i) => i % 2 === 0));
  const before = (Math.max(...along) - 0.5) * bodyLength;
  const behind = 0.5 * bodyLength;
  const tail = -Math.min(...along, 0) * bodyLength;
  const poses = ([1, -1] as const).map((way) => {
    const [rear, front] = way === 1 ? [at - low, high - at] : [high - at, at - low];
    // The body first: it moves away from a wall its head or its rear would reach into.
    const shift = Math.max(0, behind - rear) - Math.max(0, before - front);
    const room = rear + shift - behind;
    return {
      vent: at + way * (shift - behind),
      way,
      tail: tail > 0 ? Math.min(1, Math.max(0, room) / tail) : 1,
    };
  });
  const [right, left] = poses as [Pose, Pose];
  return left.tail > right.tail + 1e-9 ? left : right;
}

/** An outline as the path of an SVG, its points in pixels. */
export function pathOf(
  outline: Outline,
  pose: Pose,
  bodyLength: number,
  toX: (x: number) => number,
  toY: (y: number) => number,
): string {
  const x = (share: number) =>
    toX(pose.vent + pose.way * bodyLength * (share < 0 ? share * pose.tail : share));
  return outline
    .map(([command, ...points]) => {
      const at = points.map((p, i) => (i % 2 === 0 ? x(p) : toY(p)).toFixed(1));
      return `${command}${at.join(" ")}`;
    })
    .join("");
}
