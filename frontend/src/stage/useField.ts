/** The scale a field is drawn on, and the range a species wants of it. */
import { useMemo } from "react";
import type { Evaluation, PlanView, Section } from "../api/types";
import {
  type AirRange,
  airRange,
  type FieldName,
  type FieldScale,
  fieldOf,
  scaleOf,
} from "./fields";
import { fieldFormat } from "./Legend";

export function useFieldScale(
  view: Section | PlanView | null,
  name: FieldName,
  roomC: number,
  air: AirRange | null = null,
): FieldScale | null {
  return useMemo(
    () => view && scaleOf(name, air ?? airRange(fieldOf(view, "air"), roomC)),
    [view, name, roomC, air],
  );
}

export function wantedRange(
  evaluation: Evaluation | null,
  name: FieldName,
  units: "metric" | "imperial",
): { low: number | null; high: number | null; label: string } | null {
  if (!evaluation || (name !== "uvi" && name !== "air")) return null;
  const need = evaluation.verdicts.find((v) =>
    name === "uvi"
      ? v.need.place === "basking" && v.need.quantity === "uvi"
      : v.need.place === "warm_end" && v.need.quantity === "air_temperature",
  )?.need;
  if (!need) return null;
  const format = fieldFormat(name, units);
  const what = name === "uvi" ? "wanted at the basking place" : "wanted at the warm end";
  const text = [need.low, need.high].filter((v) => v !== null).map((v) => format(v));
  return { low: need.low, high: need.high, label: `${text.join("–")} ${what}` };
}
