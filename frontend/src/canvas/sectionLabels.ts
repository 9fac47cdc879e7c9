/** All that is written in the section while nothing moves, each where no other label lies. */
import type { Evaluation, PlanDocument } from "../api/types";
import { fixturesOf, thermostatsOf } from "../domain/plan/document";
import { show, type UnitSystem } from "../domain/units/units";
import type { FieldName } from "./fields";
import { type HeightLabel, heightLabels } from "./HeightMarks";
import { type Box, type Label, LETTER_PX, type Placed, placed } from "./labels";
import { type PlaceLabel, placeLabels } from "./PlaceMarks";
import type { Projection } from "./projection";

export interface ProbeLabel extends Label {
  text: string;
}

export interface SectionLabels {
  places: readonly PlaceLabel[];
  heights: readonly HeightLabel[];
  probes: readonly ProbeLabel[];
  boxes: ReadonlyMap<string, Placed>;
}

const PROBE_HALF_PX = { x: 8, y: 10 };
const LAMP_HALF_PX = 16;

export function sectionLabels(
  d: PlanDocument,
  evaluation: Evaluation | null,
  field: FieldName,
  p: Projection,
  units: UnitSystem,
): SectionLabels {
  const input = { document: d, evaluation, field, projection: p, units };
  const places = placeLabels(input);
  const heights = heightLabels(input);
  const probes = thermostatsOf(d).flatMap((t) => {
    const reading = evaluation?.thermostats.find((s) => s.id === t.id)?.probe_c;
    if (reading === undefined) return [];
    const [x, y] = [p.x(t.probe_m.x_m), p.y(t.probe_m.z_m)];
    const text = `probe ${show(reading, "temperature", units, 1)}`;
    const width = LETTER_PX * text.length;
    // In the right half its reading is written to the left, clear of the end's own figure.
    const left = x > p.width / 2 ? x - 12 - width : x + 12;
    return [{ id: `probe-${t.id}`, text, width, height: 16, wanted: [left, y - 8] as const }];
  });
  const lamps = fixturesOf(d).map(({ position_m: at }) =>
    around(p.x(at.x_m), p.y(at.z_m), LAMP_HALF_PX, LAMP_HALF_PX),
  );
  const capsules = thermostatsOf(d).map(({ probe_m: at }) =>
    around(p.x(at.x_m), p.y(at.z_m), PROBE_HALF_PX.x, PROBE_HALF_PX.y),
  );
  const urgent = [...places].sort((a, b) => a.urgency - b.urgency);
  const first = urgent.filter((label) => label.urgency < 2);
  const later = urgent.filter((label) => label.urgency >= 2);
  const boxes = placed(
    [...first, ...probes, ...later, ...heights],
    { x: 0, y: 0, width: p.width, height: p.height },
    [...lamps, ...capsules],
  );
  return { places, heights, probes, boxes };
}

const around = (x: number, y: number, halfX: number, halfY: number): Box => ({
  x: x - halfX,
  y: y - halfY,
  width: 2 * halfX,
  height: 2 * halfY,
});
