import { MapPin } from "lucide-react";
import { memo, type ReactNode, useState } from "react";
import type { View } from "../../api/client";
import type { Catalog, Evaluation, LampAge, PlanDocument } from "../../api/types";
import { AboveStage } from "../../canvas/AboveStage";
import type { StageEdits } from "../../canvas/edits";
import type { AirRange, FieldName } from "../../canvas/fields";
import { Legend } from "../../canvas/Legend";
import { LiveContext, useMovingThings } from "../../canvas/live";
import { SectionStage } from "../../canvas/SectionStage";
import { useFieldScale, wantedRange } from "../../canvas/useField";
import { extentOf, furnishingsOf } from "../../domain/plan/document";
import { addPin, MOST_PINS, pinsOf } from "../../domain/plan/pins";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Help } from "../../ui/Help";
import { NumberField } from "../../ui/NumberField";
import { usePreferences } from "../../ui/preferences";
import type { LivePictures } from "./livePictures";
import { PinTable } from "./PinTable";

/** What is laid over the drawing and how it is seen. */
export interface Seen {
  readonly field: FieldName;
  readonly view: View;
  readonly lampAge: LampAge;
  readonly shade: boolean;
  readonly reach: boolean;
}

interface DrawingProps {
  /** The plan; what is dragged in the drawing is followed there at once, and here now and then. */
  document: PlanDocument;
  evaluation: Evaluation | null;
  catalog: Catalog;
  /** What the air is coloured by, where that is not the field's own range. */
  air: AirRange | null;
  /** Pictures that come before the next evaluation, while something is dragged. */
  pictures: LivePictures;
  /** The document of the evaluation. */
  evaluated: PlanDocument | null;
  seen: Seen;
  onSeen: (seen: Seen) => void;
  selected: string;
  onSelect: (id: string) => void;
  edits: StageEdits;
  pointed: string | null;
  /** Drawn lower, where much stands below it. */
  low: boolean;
  /** What the picture shows at the moment. */
  state: ReactNode;
}

const FIELDS = [
  { value: "uvi", label: "UV" },
  { value: "air", label: "Air" },
  { value: "surface", label: "Surfaces" },
  { value: "irradiance", label: "Radiant heat" },
  { value: "light", label: "Visible light" },
  { value: "humidity", label: "Humidity" },
] as const;

const VIEWS = [
  { value: "front", label: "Front" },
  { value: "above", label: "Above" },
  { value: "both", label: "Both" },
] as const;
const AGES = [
  { value: "new", label: "Lamps new" },
  { value: "present", label: "now" },
  { value: "worn", label: "worn" },
] as const;

/** The enclosure in section, from above or both, with what is chosen about it. */
export function Drawing(props: DrawingProps) {
  const { evaluation, seen, onSeen, edits, onSelect, pictures } = props;
  const { units } = usePreferences();
  const { field, view } = seen;
  pictures.setPlan(props.document, props.evaluated);
  const d = useMovingThings(props.document, pictures);
  const scale = useFieldScale(evaluation, field, props.air);
  const both = view.from === "both";
  const [more, setMore] = useState(false);
  const stage = {
    document: d,
    evaluation,
    catalog: props.catalog,
    scale,
    field,
    selected: props.selected,
    onSelect,
    edits,
    pointed: props.pointed,
    low: props.low || both,
    shade: seen.shade,
    reach: seen.reach,
  };
  const legend = scale && (
    <Legend name={field} scale={scale} wanted={wantedRange(evaluation, field, units)} />
  );
  return (
    // On a phone the drawing comes before what is seldom changed about it.
    <div className="flex flex-col">
      <FieldControls seen={seen} onSeen={onSeen} more={more} onMore={setMore} />
      <div className="order-2 px-3 pt-1 sm:hidden">{legend}</div>
      <div className="order-2 mt-1 flex flex-wrap items-start gap-x-6 gap-y-2 px-3 max-sm:order-4">
        <div className="min-w-64 flex-1">
          <ViewControls
            document={props.document}
            seen={seen}
            onSeen={onSeen}
            edits={edits}
            onSelect={onSelect}
            more={more}
          />
          {/* On a separate line: the drawing must not move while it is being worked on. */}
          {props.state}
        </div>
        <div className="flex min-w-64 flex-1 max-sm:hidden">{legend}</div>
      </div>
      <LiveContext value={pictures}>
        <div className={both ? "order-3 grid md:grid-cols-2" : "order-3"}>
          {view.from !== "above" && (
            <div className="min-w-0">
              <SectionStage {...stage} />
            </div>
          )}
          {view.from !== "front" && (
            <div className="min-w-0">
              <AboveStage {...stage} />
            </div>
          )}
        </div>
      </LiveContext>
      <div className="order-5">
        <PinTable
          document={props.document}
          evaluation={evaluation}
          edits={edits}
          onSelect={onSelect}
        />
      </div>
    </div>
  );
}

interface FieldControlsProps {
  seen: Seen;
  onSeen: (seen: Seen) => void;
  /** On a phone: whether what is seldom changed is open. */
  more: boolean;
  onMore: (more: boolean) => void;
}

/** Which field is shown, from where, and how old the lamps are. */
const FieldControls = memo(function FieldControls({
  seen,
  onSeen,
  more,
  onMore,
}: FieldControlsProps) {
  return (
    <div className="order-1 flex flex-wrap gap-2 px-3 pt-2">
      <Choice
        label="Field shown"
        value={seen.field}
        onChange={(next) => onSeen({ ...seen, field: next })}
        options={FIELDS}
      />
      <Choice
        label="Seen from"
        value={seen.view.from}
        onChange={(from) => onSeen({ ...seen, view: { from, depth: null, height: null } })}
        options={VIEWS}
      />
      <div className="max-sm:hidden">
        <Ages seen={seen} onSeen={onSeen} />
      </div>
      <button
        type="button"
        aria-expanded={more}
        onClick={() => onMore(!more)}
        className="min-h-9 rounded-md border border-edge bg-raised px-2.5 text-sm sm:hidden"
      >
        {more ? "Less" : "More"}
      </button>
    </div>
  );
});

function Ages({ seen, onSeen }: Pick<FieldControlsProps, "seen" | "onSeen">) {
  return (
    <Choice
      label="UV lamps seen"
      value={seen.lampAge}
      onChange={(lampAge) => onSeen({ ...seen, lampAge })}
      options={AGES}
    />
  );
}

interface ViewControlsProps extends Pick<FieldControlsProps, "seen" | "onSeen" | "more"> {
  document: PlanDocument;
  edits: StageEdits;
  onSelect: (id: string) => void;
}

/** Where the section or the view from above lies, and what is laid over the drawing. */
const ViewControls = memo(function ViewControls(props: ViewControlsProps) {
  const { document: d, seen, onSeen, edits, onSelect, more } = props;
  const { view } = seen;
  return (
    <div className={more ? "" : "max-sm:hidden"}>
      <div className="flex flex-wrap gap-x-4">
        {view.from !== "above" && <SectionDepth document={d} seen={seen} onSeen={onSeen} />}
        {view.from !== "front" && <ViewHeight document={d} seen={seen} onSeen={onSeen} />}
      </div>
      <div className="mt-1 flex flex-wrap items-center gap-2">
        <div className="sm:hidden">
          <Ages seen={seen} onSeen={onSeen} />
        </div>
        <Toggle on={seen.shade} onToggle={(shade) => onSeen({ ...seen, shade })}>
          Shade
        </Toggle>
        <Toggle on={seen.reach} onToggle={(reach) => onSeen({ ...seen, reach })}>
          Reach
        </Toggle>
        <Button
          size="small"
          disabled={pinsOf(d).length >= MOST_PINS}
          onClick={() => addPin(d, undefined, edits, onSelect)}
        >
          <MapPin size={15} aria-hidden /> Pin a place
        </Button>
        <Help about="shade, reach and pins">
          Shade is dotted: there UV facing the light is less than a hand-held meter tells, a place
          to get away from it. Reach edges what the animal can stand on or climb, as lamps near it
          are assessed. A pinned place keeps showing its figures while you change the plan. What is
          outside the need is hatched.
        </Help>
      </div>
    </div>
  );
});

interface ToggleProps {
  on: boolean;
  onToggle: (on: boolean) => void;
  children: ReactNode;
}

function Toggle({ on, onToggle, children }: ToggleProps) {
  return (
    <button
      type="button"
      aria-pressed={on}
      onClick={() => onToggle(!on)}
      className="min-h-8 rounded-md border border-edge bg-raised px-2.5 text-sm hover:bg-wash aria-pressed:bg-accent aria-pressed:text-accent-ink"
    >
      {children}
    </button>
  );
}

interface SectionProps {
  document: PlanDocument;
  seen: Seen;
  onSeen: (seen: Seen) => void;
}

/** How deep in the enclosure the section is: at the basking spot, or a chosen depth. */
function SectionDepth({ document: d, seen, onSeen }: SectionProps) {
  const place = baskingExtent(d);
  const put = (depth: number | null) => onSeen({ ...seen, view: { ...seen.view, depth } });
  return (
    <PositionSlider
      label="Section depth, from the front"
      value={seen.view.depth}
      usual={place ? (place.y0 + place.y1) / 2 : d.enclosure.depth_m / 2}
      min={0}
      max={d.enclosure.depth_m}
      onPut={put}
    />
  );
}

/** How high the view from above is: at the back of the animal basking, or a chosen height. */
function ViewHeight({ document: d, seen, onSeen }: SectionProps) {
  const place = baskingExtent(d);
  const put = (height: number | null) => onSeen({ ...seen, view: { ...seen.view, height } });
  return (
    <PositionSlider
      label="View height, above the floor"
      value={seen.view.height}
      usual={Math.min(
        d.enclosure.height_m,
        (place?.z1 ?? d.substrate.depth_m) + d.animal.back_height_m,
      )}
      min={d.substrate.depth_m}
      max={d.enclosure.height_m}
      onPut={put}
    />
  );
}

function baskingExtent(d: PlanDocument) {
  const basking = furnishingsOf(d).find((f) => f.type === "slab" && f.basking);
  return basking ? extentOf(d, basking) : null;
}

interface SliderProps {
  label: string;
  value: number | null;
  usual: number;
  min: number;
  max: number;
  onPut: (at: number | null) => void;
}

function PositionSlider({ label, value, usual, min, max, onPut }: SliderProps) {
  return (
    <div className="flex max-w-md min-w-56 flex-1 flex-wrap items-end gap-x-3">
      <div className="min-w-56 flex-1">
        <NumberField
          label={label}
          dimension="length"
          value={value ?? usual}
          min={min}
          max={max}
          onPreview={onPut}
          onCommit={onPut}
        />
      </div>
      {value !== null && (
        <Button size="small" onClick={() => onPut(null)}>
          At the basking spot
        </Button>
      )}
    </div>
  );
}
