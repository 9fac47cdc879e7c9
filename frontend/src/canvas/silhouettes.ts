/**
 * Plain outlines of animals, to scale and inside the glass. Lengths are in body lengths, 0 at the vent and 1 at the
 * snout, so that tails lie below 0; heights in heights of the back; breadths in body lengths.
 * Paper draws the same outlines, from the same file.
 */
import shared from "../shared/silhouettes.json";

/** Commands of an SVG path with absolute points. */
export type Outline = readonly (readonly [command: "M" | "L" | "C" | "Z", ...points: number[]])[];

interface Silhouette {
  side: Outline;
  above: Outline;
}

const OUTLINES = shared.outlines as unknown as Record<string, Silhouette>;
const GROUPS: Record<string, string> = shared.groups;

/** A snake lies in coils this share of its length across, as the model has it. */
export const COIL_SHARE = shared.coil_share;

/** The outline of a group; what is not known is drawn as a lizard, a snake lies in coils and has none. */
export function silhouette(group: string | undefined): Silhouette {
  return OUTLINES[GROUPS[group ?? ""] ?? "lizard"] as Silhouette;
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
