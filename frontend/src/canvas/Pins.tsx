import type { Evaluation, Pin, PinFigures, PlanDocument } from "../api/types";
import { makeStepRunner } from "../domain/plan/itemActions";
import { onGrid } from "../domain/plan/lengths";
import { inEnclosure, pinActions, pinKey, pinsOf, withPin } from "../domain/plan/pins";
import { fixed, show, type UnitSystem, unitFormat } from "../domain/units/units";
import { usePreferences } from "../ui/preferences";
import type { StageEdits } from "./edits";
import type { From } from "./extents";
import type { FieldName } from "./fields";
import { type Label, nearest, type Placed } from "./labels";
import { Movable, type Spot } from "./Movable";
import type { Projection } from "./projection";

interface PinsProps {
  document: PlanDocument;
  evaluation: Evaluation | null;
  field: FieldName;
  projection: Projection;
  from: From;
  selected: string;
  onSelect: (key: string) => void;
  edits: StageEdits;
  /** Where their names and figures are written. */
  boxes: ReadonlyMap<string, Placed>;
}

/** Letters of names are wider than those of figures; pixels, as the test of labels finds them. */
const PIN_LETTER_PX = 6.6;
const PIN_LABEL_HIGH_PX = 31;

/** What is written at pins, and where it would go. */
export function pinLabels(
  d: PlanDocument,
  evaluation: Evaluation | null,
  field: FieldName,
  p: Projection,
  from: From,
  units: UnitSystem,
): readonly Label[] {
  return pinsOf(d).map((pin) => {
    const [px, py] = [p.x(pin.at_m.x_m), p.y(from === "front" ? pin.at_m.z_m : pin.at_m.y_m)];
    const text = pinWords(pin, evaluation, field, units);
    const width = 12 + PIN_LETTER_PX * Math.max(pin.label.length, text.length);
    const flip = px > p.width - 110;
    const wanted = [flip ? px - width - 10 : px + 10, py - 30] as const;
    return { id: pin.id, wanted, width, height: PIN_LABEL_HIGH_PX };
  });
}

function pinWords(
  pin: Pin,
  evaluation: Evaluation | null,
  field: FieldName,
  units: UnitSystem,
): string {
  const figures = evaluation?.pins.find((f) => f.id === pin.id);
  return figures ? pinText(figures, field, units) : "…";
}

/** Pinned places with the figure of the field shown. */
export function Pins(props: PinsProps) {
  const { document: d, projection: p, from, edits } = props;
  const { units } = usePreferences();
  return pinsOf(d).map((pin) => {
    const { x_m: x, y_m: y, z_m: z } = pin.at_m;
    const up = from === "front" ? z : y;
    const text = pinWords(pin, props.evaluation, props.field, units);
    const moved = (s: Spot): Pin => ({
      ...pin,
      at_m: inEnclosure(d, {
        x_m: s.x,
        y_m: from === "front" ? y : s.z,
        z_m: from === "front" ? s.z : z,
      }),
    });
    const spot = (to: Pin): Spot => ({
      x: to.at_m.x_m,
      z: from === "front" ? to.at_m.z_m : to.at_m.y_m,
    });
    const chosen = props.selected === pinKey(pin.id);
    const [px, py] = [p.x(x), p.y(up)];
    const box = props.boxes.get(pin.id);
    const led = box?.led ? nearest(box, [px, py]) : null;
    return (
      <Movable
        key={pin.id}
        label={`${pin.label}, ${text}, ${show(x, "length", units)} from the left. Arrow keys move it.`}
        testId={`${from === "front" ? "" : "above-"}${pin.id}`}
        at={{ x, z: up }}
        projection={p}
        selected={chosen}
        onSelect={() => props.onSelect(pinKey(pin.id))}
        limit={(s) => spot(moved({ x: onGrid(s.x), z: onGrid(s.z) }))}
        onDrag={(s) => edits.preview(withPin(d, moved(s)))}
        onDrop={(s) => edits.commit(withPin(d, moved(s)), `${pin.label} moved`)}
        onCancel={edits.cancel}
        actions={pinActions(d, pin)}
        onStep={makeStepRunner(edits.commit, props.onSelect)}
      >
        <path
          d={`M${px - 7} ${py}H${px + 7}M${px} ${py - 7}V${py + 7}`}
          className="stroke-panel"
          strokeWidth={5}
        />
        <path
          d={`M${px - 7} ${py}H${px + 7}M${px} ${py - 7}V${py + 7}`}
          className={chosen ? "stroke-accent" : "stroke-ink"}
          strokeWidth={2}
        />
        {led && (
          <line x1={px} y1={py} x2={led[0]} y2={led[1]} className="stroke-ink" strokeWidth={1} />
        )}
        {box && (
          <g transform={`translate(${box.x} ${box.y})`} data-testid={`mark-${pin.id}`}>
            <rect
              width={box.width}
              height={box.height}
              rx={5}
              className={`fill-panel ${chosen ? "stroke-accent" : "stroke-edge"}`}
              strokeWidth={chosen ? 2 : 1}
            />
            <text x={6} y={12} className="fill-soft text-[11px]">
              {pin.label}
            </text>
            <text x={6} y={26} className="fill-ink text-[12px] font-bold">
              {text}
            </text>
          </g>
        )}
        <rect
          className="focus-ring fill-none stroke-accent"
          opacity={0}
          strokeWidth={3}
          x={px - 13}
          y={py - 13}
          width={26}
          height={26}
          rx={13}
        />
        <circle cx={px} cy={py} r={16} fill="transparent" />
      </Movable>
    );
  });
}

/** The figure of the field at a pin. */
export function pinText(f: PinFigures, field: FieldName, units: UnitSystem): string {
  const t = unitFormat(units, "temperature");
  const degrees = (c: number) => `${fixed(t.toShown(c), 1)} ${t.suffix}`;
  if (f.air_c === null || f.air_c === undefined) return "not in the air";
  switch (field) {
    case "uvi":
      return `UVI ${fixed(f.uvi_facing ?? 0, 1)}`;
    case "air":
      return degrees(f.air_c);
    case "surface":
      return degrees(f.surface_c ?? 0);
    case "humidity":
      // Of the ground's own dampness nothing is computed.
      return f.relative_humidity == null
        ? "in the ground"
        : `${fixed(100 * f.relative_humidity, 0)} %`;
    case "light":
      return `${fixed(f.illuminance_lx ?? 0, 0)} lx`;
    case "irradiance":
      return `${fixed(f.irradiance_w_m2 ?? 0, 0)} W/m²`;
  }
}
