/** Figures of needs in the reader's units: temperatures, UV index, shares. */
import type { Need } from "../../api/types";
import { type Dimension, fixed, type UnitSystem, unitFormat } from "./units";

export type Quantity = Need["quantity"];

const QUANTITY: Record<Quantity, string> = {
  surface_temperature: "surface",
  air_temperature: "probe reading",
  water_temperature: "water",
  gradient: "difference",
  uvi: "UV index",
  humidity: "humidity",
  uv_free_share: "free of UV",
};

/** What a need asks of a place, by its kind or its label; at night air and probe are one. */
export function quantityWords(place: string, quantity: Quantity): string {
  return quantity === "air_temperature" && place.toLowerCase() === "night"
    ? "air"
    : QUANTITY[quantity];
}

export const PLACE: Record<Need["place"], string> = {
  basking: "Basking spot",
  warm_end: "Warm end",
  cool_end: "Cool end",
  upper: "Upper perches",
  middle: "Middle perches",
  lower: "Lower perches and ground",
  burrow: "Burrow",
  water: "Water",
  uv_refuge: "UV refuges",
  moist_hide: "Moist hide",
  night: "Night",
  reachable: "Hottest surface within reach",
  enclosure: "Whole enclosure",
};

export const DIMENSION: Record<Quantity, Dimension> = {
  surface_temperature: "temperature",
  air_temperature: "temperature",
  water_temperature: "temperature",
  gradient: "difference",
  uvi: "uvi",
  humidity: "share",
  uv_free_share: "share",
};

/** Whether something of a severity must be fixed. */
export const fails = (severity: string): boolean => severity === "fault" || severity === "danger";

interface NeedFormat {
  /** As precise as it is assessed. */
  figure: (value: number) => string;
  /** As limits are written. */
  limit: (value: number) => string;
  unit: string;
}

export function needFormat(quantity: Quantity, units: UnitSystem): NeedFormat {
  if (quantity === "uvi") {
    return { figure: (v) => fixed(v, 1), limit: (v) => fixed(v, 1, true), unit: "" };
  }
  if (DIMENSION[quantity] === "share") {
    const percent = (v: number) => fixed(100 * v, 0);
    return { figure: percent, limit: percent, unit: " %" };
  }
  const t = unitFormat(units, DIMENSION[quantity]);
  return {
    figure: (v) => fixed(t.toShown(v), 1),
    // No more precise than ranges are stated: half a degree, or a whole one.
    limit: (v) => fixed(t.toShown(v), units === "metric" ? 1 : 0, true),
    unit: ` ${t.suffix}`,
  };
}

/**
 * A figure beside its range: with one digit more where it would show the very limit it misses, as in
 * "12.0 °C, too low, needs 12–22 °C".
 */
export function figureBesideLimits(
  value: number,
  need: { quantity: Quantity; low: number | null; high: number | null },
  status: string,
  units: UnitSystem,
): string {
  const { figure } = needFormat(need.quantity, units);
  const missed = status === "low" ? need.low : status === "high" ? need.high : null;
  if (missed === null || figure(value) !== figure(missed)) return figure(value);
  const finer = need.quantity === "humidity" || need.quantity === "uv_free_share" ? 1 : 2;
  return fixed(unitFormat(units, DIMENSION[need.quantity]).toShown(value), finer);
}

/** "27–34 °C", "at most 0.5". */
export function rangeText(
  need: { quantity: Quantity; low: number | null; high: number | null },
  units: UnitSystem,
): string {
  const { limit, unit } = needFormat(need.quantity, units);
  if (need.low === null) return `at most ${limit(need.high ?? 0)}${unit}`;
  if (need.high === null) return `at least ${limit(need.low)}${unit}`;
  return `${limit(need.low)}–${limit(need.high)}${unit}`;
}
