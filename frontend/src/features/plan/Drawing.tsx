import { lazy, type ReactNode, Suspense, useMemo } from "react";
import type { Catalog, Evaluation, PlanDocument } from "../../api/types";
import { AboveStage } from "../../canvas/AboveStage";
import type { StageEdits } from "../../canvas/edits";
import type { AirRange } from "../../canvas/fields";
import { Legend } from "../../canvas/Legend";
import { LiveContext, useMovingThings } from "../../canvas/live";
import { FIRST_SIZE } from "../../canvas/projection";
import { SectionStage } from "../../canvas/SectionStage";
import { useSelection } from "../../canvas/selection";
import { useFieldScale, wantedRange } from "../../canvas/useField";
import { hasWebGl } from "../../canvas/webgl";
import { Button } from "../../ui/Button";
import { usePreferences } from "../../ui/preferences";
import { useSize } from "../../ui/useSize";
import type { LivePictures } from "./livePictures";
import { PinTable } from "./PinTable";
import { type Seen, Toolbar } from "./Toolbar";

/** Over the drawing while several items are selected, or are being. */
function SelectionChip({ onEdit }: { onEdit: (() => void) | null }) {
  const { keys, adding, clear } = useSelection();
  if (keys.length < 2 && !adding) return null;
  return (
    <div className="absolute top-1 left-1/2 z-20 flex w-max max-w-[95%] -translate-x-1/2 items-center gap-2 rounded-lg border border-edge bg-panel px-3 py-1 shadow-md">
      <p role="status" className="text-sm font-medium" data-testid="selection-count">
        {adding && keys.length < 2 ? "Choose more items in the drawing" : `${keys.length} selected`}
      </p>
      {onEdit && keys.length > 1 && (
        <Button size="small" onClick={onEdit}>
          Edit
        </Button>
      )}
      <Button size="small" onClick={clear}>
        {keys.length < 2 ? "Cancel" : "Select none"}
      </Button>
    </div>
  );
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
  /** A still picture in 3D for the report. */
  onReport: (picture: Blob) => void;
  /** Opens the settings of what is selected, where they are not in sight. */
  onEdit: (() => void) | null;
  pointed: string | null;
  /** The hour shown; null for the day once everything is warm. */
  hour: number | null;
  /** What the picture shows at the moment. */
  state: ReactNode;
}

// Large, and seldom wanted first: fetched when it is opened.
const SpaceStage = lazy(async () => ({
  default: (await import("../../canvas/space/SpaceStage")).SpaceStage,
}));

/** The enclosure in section, from above or both, with what is chosen about it. It fills its pane. */
export function Drawing(props: DrawingProps) {
  const { evaluation, seen, onSeen, edits, onSelect, pictures } = props;
  const { units } = usePreferences();
  const { field, view } = seen;
  const webGl = useMemo(() => !seen.space || hasWebGl(), [seen.space]);
  pictures.setPlan(props.document, props.evaluated);
  const d = useMovingThings(props.document, pictures);
  const scale = useFieldScale(evaluation, field, props.air);
  const { length_m: length, depth_m: depth, height_m: height } = d.enclosure;
  // Two views lie one above the other where that shows them larger: in an enclosure that is longer, against the
  // larger of its other sides, than the pane is wide against its height.
  const [views, pane] = useSize<HTMLDivElement>(FIRST_SIZE);
  const stacked = length / Math.max(height, depth) > pane.width / pane.height;
  const wanted = useMemo(() => wantedRange(evaluation, field, units), [evaluation, field, units]);
  const stage = {
    document: d,
    evaluation,
    wanted,
    catalog: props.catalog,
    scale,
    field,
    selected: props.selected,
    onSelect,
    edits,
    pointed: props.pointed,
    shade: seen.shade,
    reach: seen.reach,
  };
  const arranged =
    view.from !== "both"
      ? "grid-cols-1 grid-rows-1"
      : stacked
        ? "grid-cols-1 grid-rows-[repeat(2,minmax(0,1fr))]"
        : "grid-cols-[repeat(2,minmax(0,1fr))] grid-rows-1";
  return (
    <div className="flex h-full min-h-0 flex-col">
      <Toolbar
        document={props.document}
        seen={seen}
        onSeen={onSeen}
        edits={edits}
        onSelect={onSelect}
      />
      {seen.space ? (
        <div className="min-h-0 flex-1">
          {webGl ? (
            <Suspense fallback={<p className="p-4 text-soft">Loading the 3D view…</p>}>
              <SpaceStage
                {...stage}
                hour={props.hour}
                view={view}
                onView={(next) => onSeen({ ...seen, view: next })}
                onReport={props.onReport}
              />
            </Suspense>
          ) : (
            <p role="status" className="m-3 rounded-lg border border-line bg-panel p-4">
              <b>This browser cannot draw in 3D</b>: WebGL is missing or switched off. The views
              from the front and above show everything that is in it.
            </p>
          )}
        </div>
      ) : (
        <LiveContext value={pictures}>
          <div ref={views} className={`relative grid min-h-0 flex-1 ${arranged}`}>
            <SelectionChip onEdit={props.onEdit} />
            {view.from !== "above" && <SectionStage {...stage} />}
            {view.from !== "front" && <AboveStage {...stage} />}
          </div>
        </LiveContext>
      )}
      {/* As high without its legend, so that the drawing does not move when that comes. */}
      <div className="flex min-h-15.5 shrink-0 flex-wrap items-end gap-x-6 px-3 pb-1.5 group-data-small:hidden max-sm:min-h-20">
        {scale && <Legend name={field} scale={scale} wanted={wanted} />}
        <div className="ml-auto">{props.state}</div>
      </div>
      <div className="max-h-32 shrink-0 overflow-y-auto group-data-small:hidden">
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
