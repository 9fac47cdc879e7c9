/** A field in words, for those who do not see its picture: where it is highest and lowest, and near what. */
import type { PlanDocument } from "../api/types";
import { fixturesOf } from "../domain/plan/document";
import type { From } from "./extents";
import type { Field } from "./fields";

interface Spot {
  readonly value: number;
  readonly x: number;
  readonly up: number;
}

/** A lamp so near is what a highest value lies at, m. */
const NEAR_M = 0.2;
/** Values closer than this share of the highest are the same everywhere. */
const EVEN_SHARE = 0.02;

const WORDS: Record<Field["name"], string> = {
  uvi: "UV index",
  air: "Air temperature",
  surface: "Surface temperature",
  humidity: "Relative humidity",
  irradiance: "Radiant heat",
  light: "Visible light",
};

export function fieldWords(
  field: Field,
  d: PlanDocument,
  from: From,
  format: (value: number) => string,
): string {
  const low = extreme(field, (a, b) => a < b);
  const high = extreme(field, (a, b) => a > b);
  const name = WORDS[field.name];
  if (high.value - low.value <= EVEN_SHARE * Math.abs(high.value)) {
    return `${name}: ${format(high.value)} everywhere in this view.`;
  }
  const where = (spot: Spot) => place(spot, field, from);
  const lamp = fixturesOf(d).find(({ position_m: at }) => {
    const up = from === "front" ? at.z_m : at.y_m;
    return Math.hypot(at.x_m - high.x, up - high.up) < NEAR_M;
  });
  const near = lamp ? `, near ${lamp.label}` : "";
  return `${name} rises from ${format(low.value)} ${where(low)} to ${format(high.value)} ${where(high)}${near}.`;
}

function extreme(field: Field, better: (a: number, b: number) => boolean): Spot {
  let at = 0;
  for (let i = 1; i < field.values.length; i++) {
    if (better(field.values[i] ?? 0, field.values[at] ?? 0)) at = i;
  }
  const [i, k] = [at % field.nx, Math.floor(at / field.nx)];
  return {
    value: field.values[at] ?? 0,
    x: field.x0 + (i / (field.nx - 1)) * (field.x1 - field.x0),
    up: field.z0 + (k / (field.nz - 1)) * (field.z1 - field.z0),
  };
}

function place({ x, up }: Spot, field: Field, from: From): string {
  const third = (value: number, low: number, high: number) =>
    Math.min(2, Math.floor((3 * (value - low)) / (high - low)));
  const across = ["on the left", "in the middle", "on the right"][third(x, field.x0, field.x1)];
  const levels =
    from === "front"
      ? ["low down", "half-way up", "high up"]
      : ["at the front", "half-way back", "at the back"];
  return `${across}, ${levels[third(up, field.z0, field.z1)]}`;
}
