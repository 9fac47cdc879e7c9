/**
 * Noon Shade's colour ramps. All rise evenly in lightness (OKLab L), so order shows in grey and to
 * colour-blind eyes; they differ in hue: UV from night violet to pale orchid, heat from slate to
 * straw through clay, damp from umber to mist. Paper takes its colours from the same file.
 */
import shared from "../shared/scales.json";

export type RampName = "uv" | "heat" | "damp";
type Rgb = readonly [number, number, number];

/** Stops as OKLCH lightness, chroma, hue in degrees. */
const STOPS = shared.ramps as unknown as Record<
  RampName,
  readonly (readonly [number, number, number])[]
>;

function oklchToRgb(l: number, c: number, h: number): Rgb {
  const a = c * Math.cos((h * Math.PI) / 180);
  const b = c * Math.sin((h * Math.PI) / 180);
  const l3 = (l + 0.3963377774 * a + 0.2158037573 * b) ** 3;
  const m3 = (l - 0.1055613458 * a - 0.0638541728 * b) ** 3;
  const s3 = (l - 0.0894841775 * a - 1.291485548 * b) ** 3;
  const gamma = (x: number) => {
    const v = x <= 0.0031308 ? 12.92 * x : 1.055 * x ** (1 / 2.4) - 0.055;
    return Math.round(255 * Math.min(1, Math.max(0, v)));
  };
  return [
    gamma(4.0767416621 * l3 - 3.3077115913 * m3 + 0.2309699292 * s3),
    gamma(-1.2684380046 * l3 + 2.6097574011 * m3 - 0.3413193965 * s3),
    gamma(-0.0041960863 * l3 - 0.7034186147 * m3 + 1.707614701 * s3),
  ];
}

function build(name: RampName): Rgb[] {
  const stops = STOPS[name].map(([l, c, h]) => {
    const angle = (h * Math.PI) / 180;
    return [l, c * Math.cos(angle), c * Math.sin(angle)] as const;
  });
  const table: Rgb[] = [];
  for (let i = 0; i < 256; i++) {
    const t = (i / 255) * (stops.length - 1);
    const k = Math.min(stops.length - 2, Math.floor(t));
    const f = t - k;
    const [l0, a0, b0] = stops[k] as readonly [number, number, number];
    const [l1, a1, b1] = stops[k + 1] as readonly [number, number, number];
    const [l, a, b] = [l0 + f * (l1 - l0), a0 + f * (a1 - a0), b0 + f * (b1 - b0)];
    table.push(oklchToRgb(l, Math.hypot(a, b), (Math.atan2(b, a) * 180) / Math.PI));
  }
  return table;
}

const TABLES: Record<RampName, Rgb[]> = {
  uv: build("uv"),
  heat: build("heat"),
  damp: build("damp"),
};

/** Colour of a share 0–1 of a ramp. */
export function rampRgb(name: RampName, share: number): Rgb {
  const i = Math.min(255, Math.max(0, Math.round(share * 255)));
  return TABLES[name][i] as Rgb;
}

export function rampCss(name: RampName, share: number): string {
  const [r, g, b] = rampRgb(name, share);
  return `rgb(${r} ${g} ${b})`;
}

/** Colour of a share 0–1 of a ramp as six hexadecimal digits. */
export const rampHex = (name: RampName, share: number): string =>
  `#${rampRgb(name, share)
    .map((part) => part.toString(16).padStart(2, "0"))
    .join("")}`;

/** A CSS gradient from left (low) to right (high). */
export function rampGradient(name: RampName): string {
  const stops = Array.from({ length: 13 }, (_, i) => rampCss(name, i / 12));
  return `linear-gradient(to right, ${stops.join(", ")})`;
}
