import { Minus, Plus } from "lucide-react";
import { type ReactNode, type RefObject, useMemo, useState } from "react";
import type { Evaluation, PlanDocument } from "../api/types";
import { IconButton } from "../ui/Button";
import { usePreferences } from "../ui/preferences";
import { Contours, type WantedRange } from "./Contours";
import type { From } from "./extents";
import { FieldCanvas } from "./FieldCanvas";
import { type Field, type FieldName, type FieldScale, type InGround, withNewer } from "./fields";
import { fieldWords } from "./fieldWords";
import { nothingIn } from "./firstLayer";
import { fieldFormat } from "./Legend";
import type { Box } from "./labels";
import { useIsMoving, useLivePicture } from "./live";
import type { Spot } from "./Movable";
import { PointerReading } from "./PointerReading";
import type { Projection } from "./projection";
import { Shade } from "./ShadeAndReach";
import { useSelection } from "./selection";
import type { ZoomControl } from "./useZoom";

interface StageFrameProps {
  document: PlanDocument;
  /** The box the drawing fills. */
  frame: RefObject<HTMLDivElement | null>;
  projection: Projection;
  from: From;
  /** The enclosure without its walls, m. */
  size: { readonly across: number; readonly up: number };
  label: string;
  testId: string;
  name: FieldName;
  /** Whether the field lies over the drawing; it may be drawn otherwise. */
  shows: boolean;
  /** All fields as they were evaluated; what is dragged may have a newer picture. */
  evaluated: Record<FieldName, Field> | null;
  scale: FieldScale | null;
  wanted: WantedRange | null;
  /** Names and figures that those of the lines keep clear of. */
  avoid: readonly Box[];
  evaluation: Evaluation | null;
  shade: boolean;
  where: (x: number, z: number) => string;
  inGround?: ((x: number, z: number) => InGround | null) | undefined;
  zoom: ZoomControl;
  /** What is said while nothing is pointed at. */
  hint: string;
  onPin: (x: number, z: number) => void;
  /** What a rectangle is drawn around, with Shift. */
  onArea: (one: Spot, other: Spot) => void;
  /** Beams, behind all things: they follow every step of a drag. */
  beams?: ReactNode;
  /** Enclosure and things. */
  things: ReactNode;
  /** Lamps and their distances, which follow every step as well. */
  lamps: ReactNode;
  /** What is written over all. */
  marks: ReactNode;
}

/** A view of the enclosure: its field with contour lines, what is drawn over it, and what is under the pointer. */
export function StageFrame({
  document,
  frame,
  projection: p,
  from,
  size,
  label,
  testId,
  name,
  shows,
  evaluated,
  scale,
  wanted,
  avoid,
  evaluation,
  shade,
  where,
  inGround,
  hint,
  zoom,
  onPin,
  onArea,
  beams,
  things,
  lamps,
  marks,
}: StageFrameProps) {
  const { units } = usePreferences();
  const [pointer, setPointer] = useState<Spot | null>(null);
  const [area, setArea] = useState<{ from: Spot; to: Spot } | null>(null);
  const { clear, adding } = useSelection();
  const format = useMemo(() => fieldFormat(name, units), [name, units]);
  const apart = useIsMoving();
  const newer = useLivePicture()?.[from];
  const fields = useMemo(
    () => (evaluated && newer?.name === name ? withNewer(evaluated, newer) : evaluated),
    [evaluated, newer, name],
  );
  const layer = shows ? (fields?.[name] ?? null) : null;
  // A picture without anything in it would only be dark.
  const nothing = layer && nothingIn(layer);
  const field = nothing ? null : layer;
  // From the evaluation, so that the steps of a drag are not announced.
  const words = useMemo(() => {
    const still = shows ? (evaluated?.[name] ?? null) : null;
    return still && !nothing ? fieldWords(still, document, from, format) : null;
  }, [shows, evaluated, name, nothing, document, from, format]);
  const spot = (e: React.PointerEvent | React.MouseEvent): Spot => {
    const rect = e.currentTarget.getBoundingClientRect();
    return { x: p.toX(e.clientX - rect.left), z: p.toZ(e.clientY - rect.top) };
  };
  return (
    <div className="flex h-full min-h-0 flex-col">
      <div
        ref={frame}
        className="relative flex min-h-0 flex-1 touch-none flex-col justify-center overflow-hidden"
      >
        {/* biome-ignore lint/a11y/useSemanticElements: a drawing is no <fieldset> */}
        <div
          className={`relative isolate shrink-0 ${zoom.factor > 1 ? "overflow-hidden" : ""}`}
          // biome-ignore lint/a11y/noNoninteractiveTabindex: it is enlarged and moved by keys
          tabIndex={0}
          onKeyDown={(event) => {
            const act = zoomKeys(zoom, event.target === event.currentTarget).get(event.key);
            if (!act || event.ctrlKey || event.metaKey) return;
            event.preventDefault();
            act();
          }}
          style={{ height: p.height }}
          role="group"
          aria-label={label}
          data-testid={testId}
          onPointerMove={(e) => {
            // While something is dragged nothing is read off.
            if (e.pointerType !== "touch") setPointer(e.buttons === 0 ? spot(e) : null);
            if (area) setArea({ ...area, to: spot(e) });
          }}
          onPointerDown={(e) => {
            // A finger reads where it touches, and the figures stay when it is lifted.
            if (e.pointerType === "touch") setPointer(spot(e));
            const onThing = e.target instanceof Element && e.target.closest(".movable");
            if (e.button !== 0 || onThing) return;
            if (e.shiftKey) {
              e.currentTarget.setPointerCapture(e.pointerId);
              setArea({ from: spot(e), to: spot(e) });
            } else if (!adding) clear();
          }}
          onPointerUp={() => {
            if (area) onArea(area.from, area.to);
            setArea(null);
          }}
          onPointerCancel={() => setArea(null)}
          onPointerLeave={(e) => e.pointerType !== "touch" && setPointer(null)}
          onDoubleClick={(e) => {
            const { x, z } = spot(e);
            onPin(x, z);
          }}
        >
          <FieldCanvas field={field} scale={scale} projection={p} />
          <Sheet projection={p} apart={apart}>
            {!field && (
              <rect
                x={p.x(0)}
                y={p.y(size.up)}
                width={p.scale * size.across}
                height={p.scale * size.up}
                className="fill-air"
              />
            )}
            {field && scale && (
              <Contours
                field={field}
                scale={scale}
                projection={p}
                format={format}
                wanted={wanted}
                avoid={avoid}
                hurried={apart}
              />
            )}
            {shade && fields && evaluation && (
              <Shade uvi={fields.uvi} below={evaluation.uv_free_below} projection={p} from={from} />
            )}
            {beams}
          </Sheet>
          <Sheet projection={p} apart={apart}>
            {things}
          </Sheet>
          <Sheet projection={p} apart={apart}>
            {lamps}
          </Sheet>
          <Sheet projection={p} apart={apart}>
            {marks}
            {area && (
              <rect
                x={p.x(Math.min(area.from.x, area.to.x))}
                y={p.y(Math.max(area.from.z, area.to.z))}
                width={p.scale * Math.abs(area.to.x - area.from.x)}
                height={p.scale * Math.abs(area.to.z - area.from.z)}
                className="fill-accent/15 stroke-accent"
                strokeDasharray="4 3"
              />
            )}
          </Sheet>
          {nothing && (
            <p
              className="pointer-events-none absolute rounded-md border border-line bg-panel px-3 py-1.5 text-sm"
              style={{
                left: p.x(0) + 12,
                top: p.y(size.up) + 12,
                maxWidth: p.scale * size.across - 24,
              }}
              role="status"
            >
              {nothing}
            </p>
          )}
        </div>
      </div>
      {words && (
        <p className="sr-only" data-testid="field-words">
          {words}
        </p>
      )}
      <div className="flex min-h-8 items-center gap-2 px-3 group-data-small:hidden">
        <p
          className="min-w-0 flex-1 text-sm leading-tight text-soft sm:truncate"
          data-testid={from === "front" ? "pointer-reading" : "pointer-reading-above"}
        >
          {pointer && fields ? (
            <PointerReading
              spot={pointer}
              fields={fields}
              where={where}
              inGround={inGround}
              surface={from === "above"}
            />
          ) : (
            hint
          )}
        </p>
        <ZoomButtons zoom={zoom} />
      </div>
    </div>
  );
}

const NEARER = 1.4;
const PAN_PX = 60;

/** What keys do with the part that is looked at; arrows only where they do not move a thing. */
const zoomKeys = (zoom: ZoomControl, arrows: boolean): ReadonlyMap<string, () => void> =>
  new Map([
    ["+", () => zoom.by(NEARER)],
    ["=", () => zoom.by(NEARER)],
    ["-", () => zoom.by(1 / NEARER)],
    ["0", zoom.whole],
    ...((arrows && zoom.factor > 1
      ? [
          ["ArrowLeft", () => zoom.pan(PAN_PX, 0)],
          ["ArrowRight", () => zoom.pan(-PAN_PX, 0)],
          ["ArrowUp", () => zoom.pan(0, PAN_PX)],
          ["ArrowDown", () => zoom.pan(0, -PAN_PX)],
        ]
      : []) as [string, () => void][]),
  ]);

function ZoomButtons({ zoom }: { zoom: ZoomControl }) {
  return (
    <div className="flex shrink-0 items-center rounded-md border border-line bg-panel">
      {zoom.factor > 1 && (
        <button type="button" onClick={zoom.whole} className="min-h-7 px-2 text-sm hover:bg-wash">
          Show all
        </button>
      )}
      <IconButton
        label="Smaller"
        keys="-"
        className="size-7"
        disabled={zoom.factor === 1}
        onClick={() => zoom.by(1 / NEARER)}
      >
        <Minus size={16} aria-hidden />
      </IconButton>
      <IconButton label="Larger" keys="+" className="size-7" onClick={() => zoom.by(NEARER)}>
        <Plus size={16} aria-hidden />
      </IconButton>
    </div>
  );
}

interface SheetProps {
  projection: Projection;
  /** Painted apart from the others, so that these are not painted again with it. */
  apart: boolean;
  children: ReactNode;
}

/** A part of the drawing, over those before it. Only what can be moved is in the way of the pointer. */
function Sheet({ projection: p, apart, children }: SheetProps) {
  return (
    <svg
      className={`pointer-events-none absolute inset-0 ${apart ? "will-change-transform" : ""}`}
      width={p.width}
      height={p.height}
    >
      {children}
    </svg>
  );
}
