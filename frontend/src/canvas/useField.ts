/** The scale a field is drawn on, and the range a species wants of it. */
import { useMemo } from "react";
import type { Evaluation, Need } from "../api/types";
import {
  type AirRange,
  airRange,
  type FieldName,
  type FieldScale,
  scaleOf,
  unpacked,
} from "./fields";
import { fieldFormat } from "./Legend";

/** One scale for both views, so that a colour means the same in each. */
export function useFieldScale(
  evaluation: Evaluation | null,
  name: FieldName,
  air: AirRange | null,
): FieldScale | null {
  return useMemo(() => {
    if (!evaluation?.section && !evaluation?.plan_view) return null;
    if (name !== "air" && name !== "surface") return scaleOf(name, { low: 0, high: 1 });
    if (air && name === "air") return scaleOf(name, air);
    return scaleOf(name, airRange(temperaturesOf(evaluation, name), evaluation.room_c));
  }, [evaluation, name, air]);
}

/** Every temperature that is drawn. */
function* temperaturesOf(evaluation: Evaluation, name: "air" | "surface"): Generator<number> {
  const { section, plan_view: above } = evaluation;
  if (name === "air") {
    if (section) yield* unpacked(section.air_c);
    if (above) yield* unpacked(above.air_c);
    return;
  }
  if (above) yield* unpacked(above.surface_c);
  for (const row of section?.ground.temperature_c ?? []) yield* row;
  for (const surface of [...(section?.surfaces ?? []), ...(section?.branches ?? [])]) {
    yield* surface.temperature_c;
  }
}

const WANTED: Partial<
  Record<FieldName, { place: Need["place"]; quantity: Need["quantity"]; words: string }>
> = {
  uvi: { place: "basking", quantity: "uvi", words: "wanted at the basking spot" },
  air: { place: "warm_end", quantity: "air_temperature", words: "wanted at the warm end" },
  surface: {
    place: "basking",
    quantity: "surface_temperature",
    words: "wanted at the basking spot",
  },
  humidity: { place: "cool_end", quantity: "humidity", words: "wanted at the cool end" },
};

/** Where climbers want what others want at the ends. */
const BY_HEIGHT: Partial<Record<Need["place"], { place: Need["place"]; words: string }>> = {
  warm_end: { place: "upper", words: "wanted on the upper perches" },
  cool_end: { place: "lower", words: "wanted low down" },
};

export function wantedRange(
  evaluation: Evaluation | null,
  name: FieldName,
  units: "metric" | "imperial",
): { low: number | null; high: number | null; label: string } | null {
  const wanted = WANTED[name];
  if (!wanted) return null;
  const find = (place: Need["place"]) =>
    evaluation?.checks.find((v) => v.need.place === place && v.need.quantity === wanted.quantity)
      ?.need;
  const higher = BY_HEIGHT[wanted.place];
  const level = higher && find(higher.place);
  const need = level ?? find(wanted.place);
  if (!need) return null;
  const format = fieldFormat(name, units);
  const text = [need.low, need.high].filter((v) => v !== null).map((v) => format(v));
  const words = level ? higher.words : wanted.words;
  return { low: need.low, high: need.high, label: `${text.join("–")} ${words}` };
}
