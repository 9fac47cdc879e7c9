/** What ground looks like: a mix as the mean of its parts. */
import type { Mix } from "../domain/plan/ground";
import shared from "../shared/ground.json";

type Rgb = readonly [number, number, number];

const COLOURS: Readonly<Record<string, string>> = shared.colours;
const DIMMED = 0.62;
const GRAIN = 0.84;

const rgbOf = (hex: string): Rgb => [
  Number.parseInt(hex.slice(1, 3), 16),
  Number.parseInt(hex.slice(3, 5), 16),
  Number.parseInt(hex.slice(5, 7), 16),
];

function mean(mix: Mix): Rgb {
  const parts = [{ material_id: mix.material_id, parts: mix.parts ?? 1 }, ...(mix.mixed ?? [])];
  const total = parts.reduce((sum, p) => sum + p.parts, 0);
  const sum = [0, 0, 0];
  for (const part of parts) {
    const colour = rgbOf(COLOURS[part.material_id] ?? shared.other);
    for (let i = 0; i < 3; i++) sum[i] = (sum[i] ?? 0) + ((colour[i] ?? 0) * part.parts) / total;
  }
  return [sum[0] ?? 0, sum[1] ?? 0, sum[2] ?? 0];
}

const hexOf = (rgb: Rgb, by: number): string =>
  `#${rgb
    .map((v) =>
      Math.round(v * by)
        .toString(16)
        .padStart(2, "0"),
    )
    .join("")}`;

/** Colour of a layer; dimmer in the dark. */
export const groundColour = (mix: Mix, dark: boolean): string =>
  hexOf(mean(mix), dark ? DIMMED : 1);

/** Colour of the specks in it. */
export const grainColour = (mix: Mix, dark: boolean): string =>
  hexOf(mean(mix), GRAIN * (dark ? DIMMED : 1));
