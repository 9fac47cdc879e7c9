/** Which layer is worth seeing: the one a plan is opened with, and whether one has anything to show. */
import type { Catalog, Check, Evaluation, PlanDocument } from "../api/types";
import { fixturesOf } from "../domain/plan/document";
import { fails } from "../domain/units/needs";
import shared from "../shared/scales.json";
import type { Field, FieldName } from "./fields";

/** The layer that shows what a check is about. */
export const LAYER_OF: Record<Check["need"]["quantity"], FieldName> = {
  surface_temperature: "surface",
  water_temperature: "surface",
  air_temperature: "air",
  gradient: "air",
  uvi: "uvi",
  uv_free_share: "uvi",
  humidity: "humidity",
};

/** The layer of the worst check that fails; UV where all fit, if a lamp gives any; else the air. */
export function firstLayer(
  evaluation: Pick<Evaluation, "checks"> | null,
  document: PlanDocument,
  catalog: Catalog,
): FieldName {
  const lit = fixturesOf(document).some((f) =>
    catalog.lamps.some((lamp) => lamp.id === f.lamp_id && lamp.uvi_at_reference),
  );
  const failing = (evaluation?.checks ?? []).filter((c) => fails(c.severity));
  const byWeight = [
    ...failing.filter((c) => c.severity === "danger"),
    ...failing.filter((c) => c.severity !== "danger"),
  ];
  const layers = byWeight.map((c) => LAYER_OF[c.need.quantity]);
  // Without any UV there is nothing to see of it.
  const seen = layers.find((layer) => lit || layer !== "uvi");
  return seen ?? (lit ? "uvi" : "air");
}

/** At most this much is nothing to be seen, in core units; the same on paper. Estimates. */
const NOTHING: Partial<Record<FieldName, number>> = {
  uvi: shared.fields.uvi.nothing,
  irradiance: shared.fields.irradiance.nothing,
  light: shared.fields.light.nothing,
};

/** What is said where a layer has nothing to show; null where it has. */
export function nothingIn(field: Field): string | null {
  const least = NOTHING[field.name];
  if (least === undefined || field.values.some((v) => v > least)) return null;
  return field.name === "uvi"
    ? "No UV here: no lamp that is lit by day gives any in this view."
    : field.name === "light"
      ? "No light here: no lamp that is lit by day shines in this view."
      : "No radiant heat here: no lamp that is lit by day gives any in this view.";
}
