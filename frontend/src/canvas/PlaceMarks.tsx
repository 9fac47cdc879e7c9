import type { Check, Evaluation, PlanDocument, Status } from "../api/types";
import { fixed, type UnitSystem, unitFormat } from "../domain/units/units";
import { STATUS_MARK } from "../ui/status";
import type { FieldName } from "./fields";
import { type Label, nearest, type Placed } from "./labels";
import { Plate } from "./Plate";
import type { Projection } from "./projection";

/** What is written at an assessed place. */
export interface PlaceLabel extends Label {
  place: Evaluation["places"][number];
  check: Check | undefined;
  figure: string;
  name: string;
  /** The point it speaks of, px. */
  anchor: readonly [number, number];
  /** The more urgent find their place first: 0 for the basking spot, 1 for what fails. */
  urgency: number;
}

interface PlaceLabelsInput {
  document: PlanDocument;
  evaluation: Evaluation | null;
  field: FieldName;
  projection: Projection;
  units: UnitSystem;
}

const TONE: Record<Status, string> = {
  low: "fill-low",
  ok: "fill-fit",
  high: "fill-high",
  uncertain: "fill-ink",
  unknown: "fill-soft",
};

const END_INSET_M = 0.05;

/** Names and figures of the assessed places, and where each would go alone. */
export function placeLabels(input: PlaceLabelsInput): PlaceLabel[] {
  const { document: d, evaluation, field, projection: p, units } = input;
  if (!evaluation) return [];
  const t = unitFormat(units, "temperature");
  const degrees = (c: number) => `${fixed(t.toShown(c), 0)}°`;
  return evaluation.places.flatMap((place) => {
    const check = checkFor(evaluation.checks, place.id, field);
    const figure = figureOf(place, check);
    if (figure === null) return [];
    const name = place.kind === "basking" ? "" : place.label;
    const width = 8 + 6.6 * Math.max(name.length, figure.length + (check ? 2 : 0));
    const height = name ? 32 : 19;
    const anchor = spot(place.kind, place.x_m, place.z_m);
    const wanted = [anchor[0] - width / 2, anchor[1] - height / 2] as const;
    const urgency = place.kind === "basking" ? 0 : check && check.status !== "ok" ? 1 : 3;
    return [{ id: place.id, place, check, figure, name, width, height, anchor, wanted, urgency }];
  });

  /** What is said of a place; null where the picture says nothing of it. */
  function figureOf(place: Evaluation["places"][number], check: Check | undefined): string | null {
    // Only figures that mean something in this picture.
    if (field === "uvi" && !check) return null;
    if (field === "irradiance" && place.kind !== "basking") return null;
    switch (field) {
      case "uvi":
        return `UVI ${fixed((place.kind === "uv_refuge" ? place.uvi_facing : place.uvi_level) ?? 0, 1)}`;
      case "air":
        return place.kind === "basking" && place.surface_c !== null
          ? `surface ${degrees(place.surface_c)}`
          : `probe ${degrees(place.probe_c)}`;
      case "surface":
        return place.surface_c === null ? null : degrees(place.surface_c);
      case "humidity":
        return `${fixed(100 * place.relative_humidity, 0)} %`;
      case "light":
        return `${fixed(place.illuminance_lx ?? 0, 0)} lx`;
      default:
        return `${fixed(place.irradiance_w_m2 ?? 0, 0)} W/m²`;
    }
  }

  function spot(kind: string, x: number, z: number): [number, number] {
    const ground = d.substrate.depth_m;
    if (kind === "basking") return [p.x(x), p.y(z) - 30];
    if (kind === "upper" || kind === "middle" || kind === "lower") {
      return [clampInside(p.x(x)), p.y(z) + 26];
    }
    if (kind === "burrow") return [clampInside(p.x(x)), p.y(z)];
    if (kind === "uv_refuge" || kind === "water")
      return [p.x(x), p.y(ground - Math.min(0.58 * ground, WRITTEN_BELOW_M))];
    // Ends: where their air is averaged, 10 cm above the substrate, drawn a little higher.
    const left = x < d.enclosure.length_m / 2;
    const px = left
      ? p.x(0) + END_INSET_M * p.scale
      : p.x(d.enclosure.length_m) - END_INSET_M * p.scale;
    return [clampInside(px), p.y(ground + 0.16)];
  }

  function clampInside(px: number): number {
    return Math.min(p.x(d.enclosure.length_m) - 40, Math.max(p.x(0) + 40, px));
  }
}

/** What is in a hide is written in the ground below it, at most this deep, m. */
const WRITTEN_BELOW_M = 0.046;

interface PlaceMarksProps {
  labels: readonly PlaceLabel[];
  boxes: ReadonlyMap<string, Placed>;
}

/** Names and figures at the assessed places, with the check as a shape. */
export function PlaceMarks({ labels, boxes }: PlaceMarksProps) {
  return (
    <g aria-hidden="true" className="pointer-events-none">
      {labels.map(({ id, check, figure, name, anchor }) => {
        const box = boxes.get(id);
        if (!box) return null;
        const { x, y, width, height } = box;
        const [endX, endY] = nearest(box, anchor);
        return (
          <g key={id} data-testid={`mark-${id}`}>
            {box.led && (
              <line
                x1={anchor[0]}
                y1={anchor[1]}
                x2={endX}
                y2={endY}
                className="stroke-line"
                strokeWidth={1.5}
              />
            )}
            <Plate box={box} />
            {name && (
              <text
                x={x + width / 2}
                y={y + height / 2 - 4}
                textAnchor="middle"
                className="fill-soft text-[11px]"
              >
                {name}
              </text>
            )}
            <text
              x={x + width / 2}
              y={y + height / 2 + (name ? 11 : 5)}
              textAnchor="middle"
              className={`text-[13px] font-bold ${check ? TONE[check.status] : "fill-ink"}`}
            >
              {check ? `${STATUS_MARK[check.status]} ` : ""}
              {figure}
            </text>
          </g>
        );
      })}
    </g>
  );
}

/** The check a place's figure in this picture is coloured by. */
function checkFor(checks: readonly Check[], placeId: string, field: FieldName) {
  if (field === "irradiance" || field === "light") return undefined;
  const mine = checks.filter((v) => v.place_id === placeId);
  const of = (quantity: Check["need"]["quantity"]) =>
    mine.find((v) => v.need.quantity === quantity);
  if (field === "humidity") return of("humidity");
  if (field === "surface") return of("surface_temperature");
  return field === "uvi" ? of("uvi") : (of("surface_temperature") ?? of("air_temperature"));
}
