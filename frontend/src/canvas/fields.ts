/** Fields that came from the server: unpacking, scaling, reading, contour lines. */
import { contours } from "d3-contour";
import type { Layer, PlanView, Section } from "../api/types";
import shared from "../shared/scales.json";
import type { RampName } from "./ramps";

export type FieldName = "uvi" | "air" | "surface" | "irradiance" | "light" | "humidity";

export interface Field {
  readonly name: FieldName;
  readonly nx: number;
  readonly nz: number;
  /** Row by row from the bottom; core units. */
  readonly values: Float32Array;
  readonly x0: number;
  readonly x1: number;
  readonly z0: number;
  readonly z1: number;
}

export interface FieldScale {
  readonly low: number;
  readonly high: number;
  readonly levels: readonly number[];
  /** Share 0–1 of the ramp for a value. */
  share(value: number): number;
}

export const FIELD_RAMP: Record<FieldName, RampName> = {
  uvi: "uv",
  air: "heat",
  surface: "heat",
  irradiance: "heat",
  light: "heat",
  humidity: "damp",
};

/** Surfaces seen from the front are lines, not a field: then the air stands behind them. */
const LAYER = {
  uvi: "uvi",
  air: "air_c",
  surface: "air_c",
  irradiance: "irradiance_w_m2",
  light: "illuminance_lx",
  humidity: "relative_humidity",
} as const satisfies Record<FieldName, keyof Section & keyof PlanView>;

export function unpacked(layer: Layer): Float32Array {
  const bytes = Uint8Array.from(atob(layer.data), (c) => c.charCodeAt(0));
  const codes = new Uint16Array(bytes.buffer);
  const values = new Float32Array(codes.length);
  for (let i = 0; i < codes.length; i++) values[i] = layer.offset + layer.scale * (codes[i] ?? 0);
  return values;
}

/** A field of a section, or of a view from above, whose depth then takes the place of height. */
export function fieldOf(view: Section | PlanView, name: FieldName): Field {
  const front = "nz" in view;
  return {
    name,
    values: unpacked(!front && name === "surface" ? view.surface_c : view[LAYER[name]]),
    nx: view.nx,
    nz: front ? view.nz : view.ny,
    x0: view.x0_m,
    x1: view.x1_m,
    z0: front ? view.z0_m : view.y0_m,
    z1: front ? view.z1_m : view.y1_m,
  };
}

export type Fields = Readonly<Record<FieldName, Field>>;

/** Fields of a view, each unpacked when it is first looked at. */
export function fieldsOf(view: Section | PlanView): Fields {
  const known: Partial<Record<FieldName, Field>> = {};
  const field = (name: FieldName): Field => {
    const found = known[name] ?? fieldOf(view, name);
    known[name] = found;
    return found;
  };
  return {
    get uvi() {
      return field("uvi");
    },
    get air() {
      return field("air");
    },
    get surface() {
      return field("surface");
    },
    get irradiance() {
      return field("irradiance");
    },
    get light() {
      return field("light");
    },
    get humidity() {
      return field("humidity");
    },
  };
}

/** The same fields with a newer one in its place. */
export const withNewer = (fields: Fields, newer: Field): Fields =>
  Object.create(fields, { [newer.name]: { value: newer, enumerable: true } });

/**
 * How a field is coloured. UVI, irradiance and light fall off like 1/d, so equal ratios should look equally
 * far apart: their share rises with the square root. The ranges do not follow the plan, so that a
 * colour keeps its meaning while a lamp is moved.
 */
export function scaleOf(name: FieldName, air: { low: number; high: number }): FieldScale {
  if (name !== "air" && name !== "surface") {
    const { high, levels } = shared.fields[name];
    const even = "even" in shared.fields[name];
    const share = (v: number) => Math.max(0, v) / high;
    return { low: 0, high, levels, share: even ? share : (v) => Math.sqrt(share(v)) };
  }
  const { low, high } = air;
  const step = high - low > 25 ? 5 : 1;
  const levels: number[] = [];
  for (let t = Math.ceil((low + 0.01) / step) * step; t < high; t += step) levels.push(t);
  return { low, high, levels, share: (v) => (v - low) / (high - low) };
}

export interface AirRange {
  readonly low: number;
  readonly high: number;
}

/** Range of the scale of temperatures: from the room to some way above the warmest, in whole fives. */
export function airRange(values: Iterable<number>, roomC: number): AirRange {
  let top = roomC;
  for (const v of values) if (v > top) top = v;
  const low = Math.floor((roomC - 1) / 5) * 5;
  return { low, high: Math.max(low + 10, Math.ceil((top + 0.5) / 5) * 5) };
}

/** Bilinear value at a position in metres, or null outside the field. */
export function readAt(field: Field, x: number, z: number): number | null {
  const u = ((x - field.x0) / (field.x1 - field.x0)) * (field.nx - 1);
  const v = ((z - field.z0) / (field.z1 - field.z0)) * (field.nz - 1);
  if (u < 0 || v < 0 || u > field.nx - 1 || v > field.nz - 1) return null;
  const i = Math.min(field.nx - 2, Math.floor(u));
  const k = Math.min(field.nz - 2, Math.floor(v));
  const at = (a: number, b: number) => field.values[b * field.nx + a] ?? 0;
  const [f, g] = [u - i, v - k];
  return (
    at(i, k) * (1 - f) * (1 - g) +
    at(i + 1, k) * f * (1 - g) +
    at(i, k + 1) * (1 - f) * g +
    at(i + 1, k + 1) * f * g
  );
}

export interface InGround {
  /** Below the surface, m. */
  readonly depth: number;
  readonly celsius: number;
}

/** What the ground is at a point of a section, or null where there is none. */
export function groundAt(section: Section, x: number, z: number): InGround | null {
  const { x_m: xs, z_m: zs, temperature_c: rows } = section.ground;
  const top = zs.at(-1) ?? 0;
  const bottom = zs[0] ?? 0;
  const first = xs[0] ?? 0;
  const step = (xs[1] ?? first + 1) - first;
  const i = Math.round((x - first) / step);
  if (top - bottom <= 0 || z >= top || z < bottom || i < 0 || i >= xs.length) return null;
  const above = zs.findIndex((level) => level > z);
  const [low, high] = [zs[above - 1] ?? bottom, zs[above] ?? top];
  const share = (z - low) / (high - low);
  const celsius = (1 - share) * (rows[above - 1]?.[i] ?? 0) + share * (rows[above]?.[i] ?? 0);
  return { depth: top - z, celsius };
}

export interface ContourLine {
  readonly level: number;
  /** Rings of [x, z] in metres. */
  readonly rings: readonly (readonly (readonly [number, number])[])[];
}

export function contourLines(field: Field, levels: readonly number[]): ContourLine[] {
  const make = contours()
    .size([field.nx, field.nz])
    .thresholds([...levels]);
  const dx = (field.x1 - field.x0) / (field.nx - 1);
  const dz = (field.z1 - field.z0) / (field.nz - 1);
  return make(field.values as unknown as number[]).map((shape) => ({
    level: shape.value,
    rings: shape.coordinates.flatMap((polygon) =>
      polygon.map((ring) =>
        ring.map(
          // d3 places the value of cell i at i + ½.
          ([u, v]) => [field.x0 + ((u ?? 0) - 0.5) * dx, field.z0 + ((v ?? 0) - 0.5) * dz] as const,
        ),
      ),
    ),
  }));
}
