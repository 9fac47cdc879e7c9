/** From metres in the enclosure to the scene: its floor's middle is the origin, y goes up, z to the viewer. */
import type { Fixture, PlanDocument } from "../../api/types";

export type Vector = [x: number, y: number, z: number];

type Size = Pick<PlanDocument["enclosure"], "length_m" | "depth_m" | "height_m">;

/** A point x from the left, y from the front, z above the floor, m. */
export const inScene = (size: Size, x: number, y: number, z: number): Vector => [
  x - size.length_m / 2,
  z,
  size.depth_m / 2 - y,
];

const RADIANS = Math.PI / 180;

/** A lamp's angles as the scene turns it: its beam to the back, then to the right, then all about the vertical. */
export const turnedInScene = (
  f: Pick<Fixture, "turn_deg" | "lean_deg" | "tilt_deg">,
): [x: number, y: number, z: number, order: "YZX"] => [
  f.tilt_deg * RADIANS,
  f.turn_deg * RADIANS,
  f.lean_deg * RADIANS,
  "YZX",
];

/** Where the viewer stands for a view of all of it, and what is looked at. */
export function viewpoint(size: Size, from: "corner" | "front" | "above"): Vector {
  const reach =
    1.25 * Math.max(size.length_m, size.height_m * 1.3, size.depth_m) + size.depth_m / 2;
  if (from === "front") return [0, size.height_m / 2, reach];
  // Not straight above, where left and right would be lost.
  if (from === "above") return [0, size.height_m / 2 + reach, 0.01];
  return [-0.5 * reach, size.height_m / 2 + 0.42 * reach, 0.85 * reach];
}
