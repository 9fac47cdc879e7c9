/** Both unit systems: showing core figures (metres, °C) and reading what people type. */

import shared from "../../shared/units.json";

export type UnitSystem = "metric" | "imperial";
export type Dimension =
  | "length"
  | "thickness"
  | "temperature"
  | "power"
  | "difference"
  | "hours"
  | "uvi"
  | "share"
  | "angle"
  | "millilitres"
  | "duration"
  | "money"
  | "airflow"
  | "count"
  | "parts"
  | "weeks"
  | "latitude"
  | "mass"
  | "area";

export interface UnitFormat {
  readonly suffix: string;
  readonly digits: number;
  readonly step: number;
  /** What a slider stops at, in shown units. */
  readonly grain: number;
  toShown(value: number): number;
  toCore(shown: number): number;
}

const INCH_M = shared.inch_m;
const OUNCE_G = shared.ounce_g;
const PER_K = shared.fahrenheit_per_k;
const AT_0_C = shared.fahrenheit_at_0_c;
const identity = (value: number) => value;

const HOURS: UnitFormat = {
  suffix: "h",
  digits: 0,
  step: 100,
  grain: 50,
  toShown: identity,
  toCore: identity,
};

const UVI: UnitFormat = {
  suffix: "UVI",
  digits: 2,
  step: 0.5,
  grain: 0.1,
  toShown: identity,
  toCore: identity,
};
const SHARE: UnitFormat = {
  suffix: "%",
  digits: 0,
  step: 5,
  grain: 1,
  toShown: (x) => x * 100,
  toCore: (p) => p / 100,
};
const ANGLE: UnitFormat = {
  suffix: "°",
  digits: 0,
  step: 5,
  grain: 1,
  toShown: identity,
  toCore: identity,
};
const POWER: UnitFormat = {
  suffix: "W",
  digits: 0,
  step: 5,
  grain: 1,
  toShown: identity,
  toCore: identity,
};
/** Litres in the document, millilitres on the screen. */
const MILLILITRES: UnitFormat = {
  suffix: "ml",
  digits: 0,
  step: 10,
  grain: 10,
  toShown: (l) => l * 1000,
  toCore: (ml) => ml / 1000,
};
const DURATION: UnitFormat = { ...HOURS, digits: 1, step: 0.5, grain: 0.25 };
const AIRFLOW: UnitFormat = { ...UVI, suffix: "m³", digits: 1, step: 1, grain: 0.5 };
const COUNT: UnitFormat = { ...UVI, suffix: "", digits: 0, step: 1, grain: 1 };
/** Parts of a mix. */
const PARTS: UnitFormat = { ...COUNT, digits: 1, step: 0.5, grain: 0.5 };
const WEEKS: UnitFormat = { ...COUNT, suffix: "wk" };
const LATITUDE: UnitFormat = { ...COUNT, suffix: "°", digits: 1 };
const MONEY: UnitFormat = { ...UVI, suffix: "", step: 0.01, grain: 0.01 };
/** The same in both systems. */
const COMMON = {
  power: POWER,
  hours: HOURS,
  uvi: UVI,
  share: SHARE,
  angle: ANGLE,
  millilitres: MILLILITRES,
  duration: DURATION,
  money: MONEY,
  airflow: AIRFLOW,
  count: COUNT,
  parts: PARTS,
  weeks: WEEKS,
  latitude: LATITUDE,
};

const FORMATS: Record<UnitSystem, Record<Dimension, UnitFormat>> = {
  metric: {
    length: {
      suffix: "cm",
      digits: 1,
      step: 1,
      grain: 0.5,
      toShown: (m) => m * 100,
      toCore: (c) => c / 100,
    },
    thickness: {
      suffix: "mm",
      digits: 1,
      step: 1,
      grain: 0.5,
      toShown: (m) => m * 1000,
      toCore: (mm) => mm / 1000,
    },
    area: {
      suffix: "cm²",
      digits: 0,
      step: 5,
      grain: 1,
      toShown: (m2) => m2 * 1e4,
      toCore: (cm2) => cm2 / 1e4,
    },
    mass: { suffix: "g", digits: 1, step: 1, grain: 0.1, toShown: identity, toCore: identity },
    temperature: {
      suffix: "°C",
      digits: 1,
      step: 0.5,
      grain: 0.5,
      toShown: identity,
      toCore: identity,
    },
    difference: {
      suffix: "°C",
      digits: 1,
      step: 0.5,
      grain: 0.5,
      toShown: identity,
      toCore: identity,
    },
    ...COMMON,
  },
  imperial: {
    length: {
      suffix: "in",
      digits: 1,
      step: 0.5,
      grain: 0.5,
      toShown: (m) => m / INCH_M,
      toCore: (i) => i * INCH_M,
    },
    thickness: {
      suffix: "in",
      digits: 2,
      step: 0.05,
      grain: 0.01,
      toShown: (m) => m / INCH_M,
      toCore: (i) => i * INCH_M,
    },
    area: {
      suffix: "in²",
      digits: 1,
      step: 1,
      grain: 0.1,
      toShown: (m2) => m2 / INCH_M ** 2,
      toCore: (in2) => in2 * INCH_M ** 2,
    },
    mass: {
      suffix: "oz",
      digits: 2,
      step: 0.1,
      grain: 0.01,
      toShown: (g) => g / OUNCE_G,
      toCore: (oz) => oz * OUNCE_G,
    },
    temperature: {
      suffix: "°F",
      digits: 1,
      step: 1,
      grain: 0.5,
      toShown: (c) => c * PER_K + AT_0_C,
      toCore: (f) => (f - AT_0_C) / PER_K,
    },
    difference: {
      suffix: "°F",
      digits: 1,
      step: 1,
      grain: 0.5,
      toShown: (k) => k * PER_K,
      toCore: (f) => f / PER_K,
    },
    ...COMMON,
  },
};

export function unitFormat(system: UnitSystem, dimension: Dimension): UnitFormat {
  return FORMATS[system][dimension];
}

/** A number with at most a number of digits, without a negative zero. */
export function fixed(value: number, digits: number, trim = false): string {
  const rounded = Number(value.toFixed(digits)) + 0;
  return trim ? String(rounded) : rounded.toFixed(digits);
}

export function show(
  value: number,
  dimension: Dimension,
  system: UnitSystem,
  digits?: number,
): string {
  const format = unitFormat(system, dimension);
  const number = fixed(format.toShown(value), digits ?? format.digits);
  return `${number} ${format.suffix}`;
}

/** Water, in millilitres; in litres from one on. */
export function showWater(litres: number, system: UnitSystem): string {
  return litres < 1 ? show(litres, "millilitres", system) : `${fixed(litres, 1)} L`;
}

/** What a unit written after a number means, as a factor or offset to core units. */
const LENGTHS: Record<string, (x: number) => number> = {
  mm: (x) => x / 1000,
  cm: (x) => x / 100,
  m: identity,
  in: (x) => x * INCH_M,
  '"': (x) => x * INCH_M,
  ft: (x) => x * 0.3048,
};
const TYPED: Record<Dimension, Record<string, (x: number) => number>> = {
  length: LENGTHS,
  thickness: LENGTHS,
  temperature: {
    c: identity,
    "°c": identity,
    f: (x) => (x - AT_0_C) / PER_K,
    "°f": (x) => (x - AT_0_C) / PER_K,
  },
  difference: {
    k: identity,
    c: identity,
    "°c": identity,
    f: (x) => x / PER_K,
    "°f": (x) => x / PER_K,
  },
  power: { w: identity },
  hours: { h: identity },
  uvi: { uvi: identity },
  share: { "%": (x) => x / 100 },
  angle: { "°": identity, deg: identity },
  millilitres: { ml: (x) => x / 1000, l: identity },
  duration: { h: identity, min: (x) => x / 60 },
  money: {},
  airflow: { m: identity },
  count: {},
  parts: {},
  weeks: { wk: identity, weeks: identity },
  latitude: { "°": identity },
  area: { "cm²": (x) => x / 1e4, "in²": (x) => x * INCH_M ** 2 },
  mass: { g: identity, kg: (x) => x * 1000, oz: (x) => x * OUNCE_G, lb: (x) => x * 16 * OUNCE_G },
};

/** Read "12 in", "95F", "31,5" or a bare number in the shown unit; null if it is none of them. */
export function readTyped(text: string, dimension: Dimension, system: UnitSystem): number | null {
  const match = /^\s*([+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+))\s*([a-z°"%]*)\s*$/i.exec(text);
  if (!match?.[1]) return null;
  const number = Number(match[1].replace(",", "."));
  if (!Number.isFinite(number)) return null;
  const unit = (match[2] ?? "").toLowerCase();
  if (unit === "") return unitFormat(system, dimension).toCore(number);
  const convert = TYPED[dimension][unit];
  return convert ? convert(number) : null;
}

/** A figure of a sentence from the server, in the reader's units. */
export function showFigure(value: number, unit: string, system: UnitSystem): string {
  switch (unit) {
    case "m":
      return show(value, "length", system, system === "metric" ? 0 : 1);
    case "L":
      return system === "metric"
        ? `${fixed(value, 0)} L`
        : `${fixed(value / shared.quart_l, 0)} qt`;
    case "mm":
      return system === "metric"
        ? `${fixed(1000 * value, 0)} mm`
        : show(value, "length", system, 2);
    case "°C":
      return show(value, "temperature", system, 1);
    case "K":
      return show(value, "difference", system, 1);
    case "W":
      return `${fixed(value, 0)} W`;
    case "W/m²":
      return `${fixed(value, 0)} W/m²`;
    case "%":
      return `${fixed(value, 0)} %`;
    default:
      return fixed(value, 1);
  }
}

/** Ground and water by volume: litres, and quarts where inches are used. */
export function showVolume(litres: number, system: UnitSystem): string {
  const digits = litres < 10 ? 1 : 0;
  const metric = `${fixed(litres, digits)} L`;
  return system === "metric" ? metric : `${fixed(litres / shared.quart_l, digits)} qt (${metric})`;
}

/** Inside sizes in one line, in whole centimetres or inches: "120 × 60 × 60 cm". */
export function showSizes(
  size: { length_m: number; depth_m: number; height_m: number },
  system: UnitSystem,
): string {
  const format = unitFormat(system, "length");
  const whole = [size.length_m, size.depth_m, size.height_m].map((m) =>
    fixed(format.toShown(m), 0),
  );
  return `${whole.join(" × ")} ${format.suffix}`;
}
