import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Download, History, Redo2, Undo2 } from "lucide-react";
import { useCallback, useEffect, useMemo, useState } from "react";
import { useParams } from "react-router";
import { fetchCatalog, fetchPlan, type View } from "../../api/client";
import type { Catalog, LampAge, Mend, PlanDocument, PlanSummary, Season } from "../../api/types";
import { Header } from "../../app/Header";
import { Lost } from "../../app/Lost";
import { describe } from "../../app/notices";
import {
  applyPatch,
  extentOf,
  fixturesOf,
  furnishingsOf,
  thermostatsOf,
} from "../../plan/document";
import { furnishingKey } from "../../plan/furnishings";
import { AboveStage } from "../../stage/AboveStage";
import { airRange, type FieldName, fieldOf } from "../../stage/fields";
import { SectionStage } from "../../stage/SectionStage";
import { Button, IconButton } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { NumberField } from "../../ui/NumberField";
import { DayPanel } from "./day/DayPanel";
import { DrillsPanel } from "./day/DrillsPanel";
import { clock, evaluationAt } from "./day/series";
import { useDay, useMoment } from "./day/useDay";
import { Inspector } from "./Inspector";
import { OverTimePanel } from "./OverTimePanel";
import { Revisions } from "./Revisions";
import { SaveStatus } from "./SaveStatus";
import { useEvaluation, useJudgement } from "./useEvaluation";
import { usePlanEditor } from "./usePlanEditor";
import { Verdicts } from "./Verdicts";

export function PlanScreen() {
  const { planId = "" } = useParams();
  const catalog = useQuery({ queryKey: ["catalog"], queryFn: fetchCatalog, staleTime: Infinity });
  const plan = useQuery({
    queryKey: ["plan", planId],
    queryFn: () => fetchPlan(planId),
    staleTime: 0,
    gcTime: 0,
  });
  const error = plan.error ?? catalog.error;
  if (error) return <Lost {...describe(error)} />;
  if (!plan.data || !catalog.data) {
    return (
      <>
        <Header />
        <main aria-busy="true" className="p-8 text-soft">
          <h1 className="sr-only">Plan</h1>
          Opening the plan…
        </main>
      </>
    );
  }
  return <Planner key={plan.data.id} plan={plan.data} catalog={catalog.data} />;
}

function Planner({ plan, catalog }: { plan: PlanSummary; catalog: Catalog }) {
  const queries = useQueryClient();
  const editor = usePlanEditor(plan);
  const { document, undo, redo } = editor;
  const [lampAge, setLampAge] = useState<LampAge>("present");
  const [view, setView] = useState<View>({ from: "front", at: null });
  const [patchAbove, setPatchAbove] = useState<number | null>(null);
  const evaluation = useEvaluation(document, lampAge, view, patchAbove);
  // A mend is for the box as it is, not for lamps as they were or will be.
  const judgement = useJudgement(evaluation, editor.settled && lampAge === "present");
  const [pointed, setPointed] = useState<string | null>(null);
  const [field, setField] = useState<FieldName>("uvi");
  const [selected, setSelected] = useState(() => fixturesOf(plan.document)[0]?.id ?? "room");
  const [showRevisions, setShowRevisions] = useState(false);
  const [below, setBelow] = useState<Below>("settings");
  const [season, setSeason] = useState<Season>("now");
  const [hour, setHour] = useState(13);
  const day = useDay(document, season, below !== "settings");
  const moment = useMoment(day, hour, view, below === "day");
  // One scale for all hours, so that a colour keeps its meaning as the marker moves.
  const dayAir = useMemo(() => {
    const drawn = evaluation.result?.section ?? evaluation.result?.plan_view;
    if (below !== "day" || !drawn || !day.series) return null;
    const coolest = [day.series.room, ...day.series.places.map((p) => p.air)];
    return airRange(
      fieldOf(drawn, "air"),
      Math.min(...coolest.map((s) => s.values.reduce((a, b) => Math.min(a, b)))) + 1,
    );
  }, [below, evaluation.result, day.series]);
  const shown = useMemo(() => {
    if (below !== "day" || !evaluation.result || !day.series) return evaluation.result;
    return evaluationAt(evaluation.result, day.series, moment, hour);
  }, [below, evaluation.result, day.series, moment, hour]);
  // A lamp that was removed, or whose adding was undone, cannot stay selected.
  const kept =
    [...fixturesOf(document), ...thermostatsOf(document)].some((t) => t.id === selected) ||
    furnishingsOf(document).some((f) => furnishingKey(f.id) === selected);
  const parts = ["furnishings", "animal", "box", "lid", "substrate", "moisture", "room"];
  const gone = selected.startsWith("furnishing:") ? "furnishings" : "room";
  const part = kept || parts.includes(selected) ? selected : gone;
  const species = catalog.species.find((s) => s.id === document.animal.species_id);

  useEffect(() => {
    const key = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.altKey) return;
      // In a text field that is being edited the browser's own undo is meant.
      const field = event.target;
      if (field instanceof HTMLInputElement && field.type === "text") {
        if (field.dataset.unchanged !== "true") return;
      }
      const letter = event.key.toLowerCase();
      if (letter === "z" && !event.shiftKey) undo();
      else if (letter === "y" || (letter === "z" && event.shiftKey)) redo();
      else return;
      event.preventDefault();
    };
    window.addEventListener("keydown", key);
    return () => window.removeEventListener("keydown", key);
  }, [undo, redo]);

  useEffect(() => {
    window.document.title = `${document.name} · Noon Shade`;
  }, [document.name]);

  const exportPlan = async () => {
    await editor.flush();
    void queries.invalidateQueries({ queryKey: ["plans"] });
    window.location.assign(`/api/plans/${plan.id}/export`);
  };
  const { commit } = editor;
  const answered = evaluation.document;
  const tryMend = useCallback(
    (mend: Mend) => {
      if (!answered) return;
      const text = mend.sentence
        .map((part) => (part.kind === "text" ? part.text : "…"))
        .join("")
        .split(":")[0];
      commit(applyPatch(answered, mend.patch), `Tried: ${text}`.slice(0, 200));
    },
    [answered, commit],
  );

  const Stage = view.from === "front" ? SectionStage : AboveStage;
  return (
    <div className="flex min-h-screen flex-col">
      <Header>
        <div className="w-full min-w-0 sm:w-auto sm:flex-1">
          <h1 className="truncate leading-tight font-semibold">{document.name}</h1>
          <p className="truncate text-sm leading-tight text-soft">
            {species && (
              <>
                {species.common_name}, <i>{species.scientific_name}</i>
              </>
            )}
          </p>
        </div>
        <SaveStatus editor={editor} planId={plan.id} />
        <div className="flex items-center">
          <IconButton
            label={editor.canUndo ? `Undo: ${editor.canUndo}` : "Undo"}
            keys="Control+Z"
            disabled={!editor.canUndo}
            onClick={undo}
          >
            <Undo2 size={18} aria-hidden />
          </IconButton>
          <IconButton
            label={editor.canRedo ? `Redo: ${editor.canRedo}` : "Redo"}
            keys="Control+Y"
            disabled={!editor.canRedo}
            onClick={redo}
          >
            <Redo2 size={18} aria-hidden />
          </IconButton>
          <IconButton label="Revisions" onClick={() => setShowRevisions(true)}>
            <History size={18} aria-hidden />
          </IconButton>
          <IconButton label="Export as a file" onClick={() => void exportPlan()}>
            <Download size={18} aria-hidden />
          </IconButton>
        </div>
      </Header>
      <main className="grid flex-1 grid-cols-1 lg:grid-cols-[minmax(0,1fr)_26rem] lg:grid-rows-[auto_1fr]">
        <section id="drawing" aria-label="Drawing" className="min-w-0 lg:border-r lg:border-line">
          {evaluation.error !== null && <EvaluationTrouble error={evaluation.error} undo={undo} />}
          <Stage
            document={document}
            evaluation={shown}
            air={dayAir}
            catalog={catalog}
            field={field}
            selected={part}
            onSelect={setSelected}
            edits={editor}
            low={below === "day"}
            pointed={pointed}
            cut={
              <div className="min-w-64 flex-1">
                <Cut document={document} view={view} onView={setView} />
                <p
                  className="mt-0.5 text-sm text-soft"
                  role="status"
                  data-testid="evaluation-state"
                  data-pending={evaluation.pending}
                >
                  {evaluation.pending
                    ? "Working it out…"
                    : below === "day" && moment
                      ? `As it is at ${clock(moment.hour)}`
                      : SEEN[lampAge]}
                </p>
              </div>
            }
          >
            <div className="flex flex-wrap gap-2">
              <Choice
                label="Field shown"
                value={field}
                onChange={setField}
                options={[
                  { value: "uvi", label: "UV" },
                  { value: "air", label: "Temperature" },
                  { value: "irradiance", label: "Lamp heat" },
                  { value: "light", label: "Light" },
                ]}
              />
              <Choice
                label="Seen from"
                value={view.from}
                onChange={(from) => setView({ from, at: null })}
                options={[
                  { value: "front", label: "Front" },
                  { value: "above", label: "Above" },
                ]}
              />
              <Choice
                label="UV lamps seen"
                value={lampAge}
                onChange={setLampAge}
                options={[
                  { value: "new", label: "Lamps new" },
                  { value: "present", label: "now" },
                  { value: "worn", label: "worn" },
                ]}
              />
            </div>
          </Stage>
        </section>
        <section
          aria-label="Needs and figures"
          className="min-w-0 border-t border-line bg-panel lg:row-span-2 lg:border-t-0"
        >
          <Verdicts
            evaluation={evaluation.result}
            judgement={judgement}
            onPoint={setPointed}
            proposing={lampAge === "present"}
            onTry={tryMend}
            onPatchAbove={setPatchAbove}
            bodyLength={document.animal.body_length_m}
          />
          <p className="border-t border-line px-4 py-3 text-sm text-soft">
            These figures are predictions until you have measured them in your own box. An animal
            that looks ill or burnt, and any doubt about UV, belongs to a veterinarian who knows
            reptiles.
          </p>
        </section>
        <section aria-label={BELOW[below]} className="min-w-0 lg:border-r lg:border-line">
          <div className="px-3 py-2">
            <Choice
              label="Under the drawing"
              value={below}
              onChange={setBelow}
              options={(["settings", "day", "time", "drills"] as const).map((value) => ({
                value,
                label: BELOW[value],
              }))}
            />
          </div>
          {below === "settings" && (
            <Inspector
              document={document}
              evaluation={evaluation.result}
              catalog={catalog}
              selected={part}
              onSelect={setSelected}
              edits={editor}
            />
          )}
          {below === "day" && (
            <DayPanel
              document={document}
              evaluation={evaluation.result}
              state={day}
              season={season}
              onSeason={setSeason}
              hour={hour}
              onHour={setHour}
              edits={editor}
            />
          )}
          {below === "time" && <OverTimePanel document={document} day={day} />}
          {below === "drills" && <DrillsPanel state={day} />}
        </section>
      </main>
      <Revisions
        planId={plan.id}
        open={showRevisions}
        onOpenChange={setShowRevisions}
        onRestore={editor.commit}
      />
    </div>
  );
}

type Below = "settings" | "day" | "time" | "drills";
const BELOW: Record<Below, string> = {
  settings: "Settings",
  day: "The day",
  time: "Over time",
  drills: "What if",
};

const SEEN: Record<LampAge, string> = {
  present: "By day, once all is warm",
  new: "As if the UV lamps were new (burned in for 100 h)",
  worn: "As if the UV lamps were at the end of their life",
};

interface CutProps {
  document: PlanDocument;
  view: View;
  onView: (view: View) => void;
}

/** Where the box is cut: the basking place, or a depth or height of one's own. */
function Cut({ document: d, view, onView }: CutProps) {
  const basking = furnishingsOf(d).find((f) => f.type === "slab" && f.basking);
  const front = view.from === "front";
  const place = basking ? extentOf(d, basking) : null;
  const usual = front
    ? place
      ? (place.y0 + place.y1) / 2
      : d.box.depth_m / 2
    : Math.min(d.box.height_m, (place?.z1 ?? d.substrate.depth_m) + d.animal.back_height_m);
  const put = (at: number) => onView({ ...view, at });
  return (
    <div className="flex max-w-md flex-wrap items-end gap-x-3">
      <div className="min-w-56 flex-1">
        <NumberField
          label={front ? "Cut, from the front" : "Cut, above the box floor"}
          dimension="length"
          value={view.at ?? usual}
          min={front ? 0 : d.substrate.depth_m}
          max={front ? d.box.depth_m : d.box.height_m}
          onPreview={put}
          onCommit={put}
        />
      </div>
      {view.at !== null && (
        <Button size="small" onClick={() => onView({ ...view, at: null })}>
          At the basking place
        </Button>
      )}
    </div>
  );
}

function EvaluationTrouble({ error, undo }: { error: unknown; undo: () => void }) {
  const { title, detail } = describe(error);
  return (
    <div role="alert" className="mx-3 mt-2 rounded-lg border border-high bg-high-wash p-3">
      <p className="font-semibold text-high">{title}</p>
      <p className="text-sm">{detail}</p>
      <p className="mt-1 flex items-center gap-3 text-sm">
        The picture shows the last plan that could be computed.
        <Button size="small" onClick={undo}>
          Undo the last change
        </Button>
      </p>
    </div>
  );
}
