import { SlidersHorizontal } from "lucide-react";
import { Popover } from "radix-ui";
import { memo, type ReactNode } from "react";
import type { View } from "../../api/client";
import type { LampAge, PlanDocument } from "../../api/types";
import type { FieldName } from "../../canvas/fields";
import { extentOf, furnishingsOf } from "../../domain/plan/document";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Help } from "../../ui/Help";
import { NumberField } from "../../ui/NumberField";
import { useMedia } from "../../ui/useMedia";
import { AddMenu, type AddMenuProps } from "./AddMenu";

/** What is laid over the drawing and how it is seen. */
export interface Seen {
  readonly field: FieldName;
  readonly view: View;
  readonly lampAge: LampAge;
  /** In 3D; both views are then computed for its slices. */
  readonly space: boolean;
  readonly shade: boolean;
  readonly reach: boolean;
}

export const FIELDS = [
  { value: "uvi", label: "UV" },
  { value: "air", label: "Air" },
  { value: "surface", label: "Surfaces" },
  { value: "irradiance", label: "Radiant heat" },
  { value: "light", label: "Visible light" },
  { value: "humidity", label: "Humidity" },
] as const;

export const VIEWS = [
  { value: "front", label: "Front" },
  { value: "above", label: "Above" },
  { value: "both", label: "Both" },
  { value: "space", label: "3D" },
] as const;
export type SeenFrom = (typeof VIEWS)[number]["value"];

/** The same, seen from elsewhere. */
export const seenFrom = <T extends Pick<Seen, "space" | "view">>(seen: T, from: SeenFrom): T => ({
  ...seen,
  space: from === "space",
  view: { from: from === "space" ? "both" : from, depth: null, height: null },
});

const AGES = [
  { value: "new", label: "New" },
  { value: "present", label: "As they are" },
  { value: "worn", label: "Worn out" },
] as const;

interface ToolbarProps extends AddMenuProps {
  seen: Seen;
  onSeen: (seen: Seen) => void;
}

/** Over the drawing, in one row: the layer, the view, what can be added, and what is seldom changed. */
export const Toolbar = memo(function Toolbar(props: ToolbarProps) {
  const { document, seen, onSeen, edits, onSelect } = props;
  const roomy = useMedia("(min-width: 40rem)");
  return (
    <div
      role="toolbar"
      aria-label="Drawing"
      className="flex shrink-0 flex-wrap items-center gap-1.5 px-3 pt-2 pb-1 max-sm:gap-1 max-sm:px-2 group-data-small:hidden"
    >
      {roomy ? (
        <Choice
          label="Field shown"
          snug
          value={seen.field}
          onChange={(next) => onSeen({ ...seen, field: next })}
          options={FIELDS}
        />
      ) : (
        <select
          aria-label="Field shown"
          value={seen.field}
          onChange={(e) => onSeen({ ...seen, field: e.target.value as FieldName })}
          className="min-h-10 w-21 rounded-md border border-edge bg-raised px-1 font-medium"
        >
          {FIELDS.map((f) => (
            <option key={f.value} value={f.value}>
              {f.label}
            </option>
          ))}
        </select>
      )}
      <Choice
        label="Seen from"
        snug
        value={seen.space ? "space" : seen.view.from}
        onChange={(from) => onSeen(seenFrom(seen, from))}
        options={VIEWS}
      />
      <div className="ml-auto flex gap-1.5 max-sm:gap-1">
        <AddMenu document={document} edits={edits} onSelect={onSelect} />
        <ShowMenu document={document} seen={seen} onSeen={onSeen} />
      </div>
    </div>
  );
});

interface ShowProps {
  document: PlanDocument;
  seen: Seen;
  onSeen: (seen: Seen) => void;
}

/** Where the drawing is cut, how old the UV lamps are, and what is laid over it. */
function ShowMenu({ document, seen, onSeen }: ShowProps) {
  const { view } = seen;
  const changed =
    seen.shade ||
    seen.reach ||
    seen.lampAge !== "present" ||
    view.depth !== null ||
    view.height !== null;
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Button size="small" aria-label={changed ? "Show, changed" : "Show"}>
          <SlidersHorizontal size={15} aria-hidden /> <span className="max-sm:sr-only">Show</span>
          {changed && <span aria-hidden className="size-2 rounded-full bg-accent" />}
        </Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={4}
          collisionPadding={8}
          aria-label="What the drawing shows"
          className="z-50 w-80 max-w-[95vw] space-y-3 rounded-lg border border-edge bg-panel p-3 shadow-xl"
        >
          {view.from !== "above" && (
            <SectionDepth document={document} seen={seen} onSeen={onSeen} />
          )}
          {view.from !== "front" && <ViewHeight document={document} seen={seen} onSeen={onSeen} />}
          <div>
            <p className="text-sm text-soft">UV lamps</p>
            <Choice
              label="UV lamps seen"
              value={seen.lampAge}
              onChange={(lampAge) => onSeen({ ...seen, lampAge })}
              options={AGES}
            />
          </div>
          <div className="flex flex-wrap items-center gap-2">
            <Toggle on={seen.shade} onToggle={(shade) => onSeen({ ...seen, shade })}>
              Shade
            </Toggle>
            <Toggle on={seen.reach} onToggle={(reach) => onSeen({ ...seen, reach })}>
              Reach
            </Toggle>
            <Help about="shade and reach">
              Shade is dotted: there UV facing the light is less than a hand-held meter can read, a
              place to get away from it. Reach outlines what the animal can stand on or climb. What
              is outside the need is hatched.
            </Help>
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

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

/** How deep in the enclosure the section is: at the basking spot, or a chosen depth. */
function SectionDepth({ document: d, seen, onSeen }: ShowProps) {
  const place = baskingExtent(d);
  return (
    <PositionSlider
      label="Section depth, from the front"
      value={seen.view.depth}
      usual={place ? (place.y0 + place.y1) / 2 : d.enclosure.depth_m / 2}
      min={0}
      max={d.enclosure.depth_m}
      onPut={(depth) => onSeen({ ...seen, view: { ...seen.view, depth } })}
    />
  );
}

/** How high the view from above is: at the back of the animal basking, or a chosen height. */
function ViewHeight({ document: d, seen, onSeen }: ShowProps) {
  const place = baskingExtent(d);
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
      onPut={(height) => onSeen({ ...seen, view: { ...seen.view, height } })}
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
    <div>
      <NumberField
        label={label}
        dimension="length"
        value={value ?? usual}
        min={min}
        max={max}
        onPreview={onPut}
        onCommit={onPut}
      />
      {value !== null && (
        <Button size="small" className="mt-1" onClick={() => onPut(null)}>
          At the basking spot
        </Button>
      )}
    </div>
  );
}
