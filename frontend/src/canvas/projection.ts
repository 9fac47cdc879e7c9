/** From metres in the enclosure to pixels on the drawing, front view. */
import type { PlanDocument } from "../api/types";
import { against } from "../domain/plan/document";

export interface Projection {
  readonly scale: number;
  readonly width: number;
  readonly height: number;
  x(metres: number): number;
  y(zMetres: number): number;
  /** Back to metres. */
  toX(px: number): number;
  toZ(px: number): number;
}

const MARGIN = { left: 40, right: 14, top: 14, bottom: 34 };
/** What a drawing is built for until its place on the screen is measured, px. */
export const FIRST_SIZE = { width: 780, height: 500 };
const LEAST = { width: 240, height: 140 };
const ABOVE_CLOSED_TOP_M = 0.02;
const ABOVE_OPEN_TOP_M = 0.3;
const ABOVE_HIGH_LAMP_M = 0.6;
/** Thickness walls are drawn with when they have none given. */
export const SHEET_M = 0.006;

/** Room to draw above the enclosure, in steps, so that the scale does not change while a lamp moves. */
export function headroom(d: PlanDocument): number {
  // Mats lie against a wall or the floor, and never come above it.
  const hung = (d.fixtures ?? []).filter((f) => against(f) === null);
  if (d.enclosure.walls.top.kind === "solid" || hung.length === 0) return ABOVE_CLOSED_TOP_M;
  const highest = Math.max(...hung.map((f) => f.position_m.z_m));
  return highest > d.enclosure.height_m + 0.2 ? ABOVE_HIGH_LAMP_M : ABOVE_OPEN_TOP_M;
}

/** Room beside the enclosure, m. */
export interface Beside {
  readonly left: number;
  readonly right: number;
  readonly below: number;
}

const NOTHING_BESIDE: Beside = { left: 0, right: 0, below: 0 };
const BESIDE_STEP_M = 0.25;

/**
 * Room to draw lamps that stand outside a side, in steps, on the axis that goes up in the drawing: height from the
 * front, depth from above.
 */
export function sideRoom(d: PlanDocument): Beside & { readonly above: number } {
  const room = (out: (at: { x_m: number; y_m: number }) => number) => {
    const most = Math.max(0, ...(d.fixtures ?? []).map((f) => out(f.position_m)));
    return most > 0 ? BESIDE_STEP_M * Math.ceil((most + 0.1) / BESIDE_STEP_M) : 0;
  };
  return {
    left: room((at) => -at.x_m),
    right: room((at) => at.x_m - d.enclosure.length_m),
    below: room((at) => -at.y_m),
    above: room((at) => at.y_m - d.enclosure.depth_m),
  };
}

export function projection(
  enclosure: { length_m: number; height_m: number },
  above: number,
  width: number,
  mostHeight: number,
  beside: Beside = NOTHING_BESIDE,
): Projection {
  const top = enclosure.height_m + above;
  const across = Math.max(LEAST.width, width) - MARGIN.left - MARGIN.right;
  const wide = beside.left + enclosure.length_m + beside.right;
  const scale = Math.min(
    across / (wide + 0.04),
    (Math.max(LEAST.height, mostHeight) - MARGIN.top - MARGIN.bottom) / (top + beside.below + 0.02),
  );
  const left = MARGIN.left + (across - scale * wide) / 2 + scale * beside.left;
  const floor = MARGIN.top + scale * top;
  return {
    scale,
    width,
    height: floor + scale * (beside.below + 0.02) + MARGIN.bottom,
    x: (m) => left + scale * m,
    y: (z) => floor - scale * z,
    toX: (px) => (px - left) / scale,
    toZ: (px) => (floor - px) / scale,
  };
}
