import { CalendarCheck, DraftingCompass, History, Thermometer } from "lucide-react";
import {
  lazy,
  memo,
  Suspense,
  useCallback,
  useDeferredValue,
  useEffect,
  useMemo,
  useRef,
  useState,
  useSyncExternalStore,
} from "react";
import { Link } from "react-router";
import { FRONT } from "../../api/client";
import type { PictureQuestion } from "../../api/picture";
import type { Catalog, Fix, LampAge, PlanDocument, Season } from "../../api/types";
import { Header } from "../../app/Header";
import { describe } from "../../app/notices";
import { TourInvitation } from "../../app/Tour";
import { airRange, type FieldName, unpacked } from "../../canvas/fields";
import { firstLayer } from "../../canvas/firstLayer";
import { fixturesOf, furnishingsOf, thermostatsOf } from "../../domain/plan/document";
import { furnishingKey } from "../../domain/plan/furnishings";
import { applyPatch } from "../../domain/plan/patch";
import { ventKey, ventsOf } from "../../domain/plan/vents";
import { fails } from "../../domain/units/needs";
import { Button, IconButton } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { FixEverything } from "../design/FixEverything";
import { Checks } from "./Checks";
import { Drawing, type Seen } from "./Drawing";
import { clock, evaluationAt } from "./day/series";
import { useDay, useMoment } from "./day/useDay";
import { Inspector } from "./Inspector";
import { LivePictures } from "./livePictures";
import { OutputsMenu } from "./OutputsMenu";
import { Opening, useOpenPlan } from "./PlanFrame";
import { SaveStatus } from "./SaveStatus";
import { UndoButtons } from "./UndoButtons";
import { useAssessment, useEvaluation } from "./useEvaluation";
import type { PlanEditor } from "./usePlanEditor";
import { useUndoKeys } from "./useUndoKeys";

// Not on show at first: fetched when they are asked for.
const DayPanel = lazy(async () => ({ default: (await import("./day/DayPanel")).DayPanel }));
const ScenariosPanel = lazy(async () => ({
  default: (await import("./ScenariosPanel")).ScenariosPanel,
}));
const WhatIfPanel = lazy(async () => ({
  default: (await import("./day/WhatIfPanel")).WhatIfPanel,
}));
const BuildPanel = lazy(async () => ({ default: (await import("./BuildPanel")).BuildPanel }));
const Revisions = lazy(async () => ({ default: (await import("./Revisions")).Revisions }));

type Below = "settings" | "day" | "time" | "whatIf" | "build";
const BELOW: Record<Below, string> = {
  settings: "Settings",
  day: "The day",
  time: "All conditions",
  whatIf: "What if",
  build: "To build",
};
const PARTS = ["furnishings", "animal", "enclosure", "lid", "substrate", "moisture", "room"];

const SEEN: Record<LampAge, string> = {
  present: "By day, once all is warm",
  new: "As if the UV lamps were new (burned in for 100 h)",
  worn: "As if the UV lamps were at the end of their life",
};

const CHOICES = (["settings", "day", "time", "whatIf", "build"] as const).map((value) => ({
  value,
  label: BELOW[value],
}));

/** How long an empty screen waits for the first figures: building it twice takes longer than they do. */
const FIRST_FIGURES_MS = 250;

/** A plan with its figures. They are asked for before the drawing is built, which waits for them a moment. */
export function PlanScreen() {
  const [built, setBuilt] = useState(false);
  const build = useCallback(() => setBuilt(true), []);
  return built ? <Workspace /> : <FirstFigures onReady={build} />;
}

function FirstFigures({ onReady }: { onReady: () => void }) {
  const { document } = useOpenPlan().editor;
  const { result, error } = useEvaluation(document, "present", FRONT, null, "at once");
  const arrived = result !== null || error !== null;
  useEffect(() => {
    const timer = setTimeout(onReady, arrived ? 0 : FIRST_FIGURES_MS);
    return () => clearTimeout(timer);
  }, [arrived, onReady]);
  return <Opening />;
}

function Workspace() {
  const { planId, catalog, editor } = useOpenPlan();
  const { document, undo, redo, preview, cancel, commit } = editor;
  const pictures = useMemo(() => new LivePictures(preview), [preview]);
  const wanted = useRef<Omit<PictureQuestion, "document"> | null>(null);
  const edits = useMemo(
    () => ({
      preview: (next: PlanDocument) => {
        if (wanted.current) pictures.ask({ ...wanted.current, document: next }, pictures.move);
        else pictures.move(next);
      },
      cancel: () => {
        pictures.drop();
        cancel();
      },
      commit: (next: PlanDocument, summary: string) => {
        pictures.drop();
        commit(next, summary);
      },
    }),
    [pictures, cancel, commit],
  );
  // What is slid in a form stays under the finger, whatever its picture takes.
  const typed = useMemo(
    () => ({
      preview: (next: PlanDocument) => {
        if (wanted.current) pictures.ask({ ...wanted.current, document: next });
        preview(next);
      },
      cancel,
      commit,
    }),
    [pictures, preview, cancel, commit],
  );
  const [chosen, setSeen] = useState<Omit<Seen, "field"> & { field: FieldName | null }>({
    field: null,
    view: FRONT,
    lampAge: "present",
    shade: false,
    reach: false,
  });
  const { lampAge, view } = chosen;
  const [patchAbove, setPatchAbove] = useState<number | null>(null);
  const pace = useSyncExternalStore(pictures.subscribe, pictures.pace);
  const evaluation = useEvaluation(
    document,
    lampAge,
    view,
    patchAbove,
    editor.settled ? "at once" : pace,
  );
  // What fails when the plan is opened is what is seen first; later the keeper chooses.
  const [first, setFirst] = useState<FieldName | null>(null);
  if (first === null && evaluation.result) {
    setFirst(firstLayer(evaluation.result, document, catalog));
  }
  const seen: Seen = useMemo(
    () => ({ ...chosen, field: chosen.field ?? first ?? firstLayer(null, document, catalog) }),
    [chosen, first, document, catalog],
  );
  // A fix is for the enclosure as it is, not for new or old lamps.
  const assessment = useAssessment(evaluation, editor.settled && lampAge === "present");
  const [pointed, setPointed] = useState<string | null>(null);
  const [selected, setSelected] = useState(() => fixturesOf(document)[0]?.id ?? "room");
  const [showRevisions, setShowRevisions] = useState(false);
  const [below, setBelow] = useState<Below>("settings");
  // The drawing and its figures are shown first; what lies below them follows at once.
  const around = useDeferredValue(true, false);
  const [season, setSeason] = useState<Season>("now");
  const [hour, setHour] = useState(13);
  const followed = below === "day" || below === "time" || below === "whatIf";
  const day = useDay(document, season, followed);
  const moment = useMoment(day, hour, view, below === "day");
  // One scale for all hours, so that a colour keeps its meaning as the marker moves.
  const dayAir = useMemo(() => {
    const drawn = evaluation.result?.section ?? evaluation.result?.plan_view;
    if (below !== "day" || !drawn || !day.series) return null;
    const coolest = [day.series.room, ...day.series.places.map((p) => p.air)];
    return airRange(
      unpacked(drawn.air_c),
      Math.min(...coolest.map((s) => s.values.reduce((a, b) => Math.min(a, b)))) + 1,
    );
  }, [below, evaluation.result, day.series]);
  const shown = useMemo(() => {
    if (below !== "day" || !evaluation.result || !day.series) return evaluation.result;
    return evaluationAt(evaluation.result, day.series, moment, hour);
  }, [below, evaluation.result, day.series, moment, hour]);
  // While something is dragged, pictures of the layer on show come faster than evaluations.
  const powerFraction = evaluation.result?.power_fraction;
  wanted.current =
    below === "day" || !powerFraction ? null : { layer: seen.field, view, lampAge, powerFraction };
  const drawn = ["pin:", "vent:"].some((kind) => selected.startsWith(kind));
  // A lamp that was removed, or whose adding was undone, cannot stay selected.
  const kept =
    drawn ||
    [...fixturesOf(document), ...thermostatsOf(document)].some((t) => t.id === selected) ||
    furnishingsOf(document).some((f) => furnishingKey(f.id) === selected);
  const gone = selected.startsWith("furnishing:") ? "furnishings" : "room";
  const part = kept || PARTS.includes(selected) ? selected : gone;
  // What has no separate form leaves the form that is open where it is; vents belong to the enclosure.
  const [form, setForm] = useState(part);
  const vent = ventsOf(document).find((_, i) => selected === ventKey(i));
  const formShown = vent ? (vent.side === "top" ? "lid" : "enclosure") : drawn ? form : part;
  useEffect(() => {
    if (!drawn) setForm(part);
  }, [drawn, part]);

  useUndoKeys(undo, redo);
  useEffect(() => {
    window.document.title = `${document.name} · Noon Shade`;
  }, [document.name]);

  const answered = evaluation.document;
  const tryFix = useCallback(
    (fix: Fix) => {
      if (!answered) return;
      const text = fix.sentence
        .map((part) => (part.kind === "text" ? part.text : "…"))
        .join("")
        .split(":")[0];
      commit(applyPatch(answered, fix.patch), `Fix: ${text}`.slice(0, 200));
    },
    [answered, commit],
  );

  const openRevisions = useCallback(() => setShowRevisions(true), []);
  const failing = [
    ...(evaluation.result?.checks ?? []),
    ...(evaluation.result?.findings ?? []),
  ].filter((one) => fails(one.severity)).length;
  const judged = answered ?? document;
  const action = useMemo(
    () => <FixEverything document={judged} failing={failing} onApply={commit} />,
    [judged, failing, commit],
  );

  return (
    // What lies around the drawing is isolated: the browser need not paint it again while something is dragged.
    <div className="flex min-h-screen flex-col">
      <PlanHeader
        planId={planId}
        catalog={catalog}
        editor={editor}
        seen={seen}
        onRevisions={openRevisions}
      />
      <TourInvitation />
      <main className="grid flex-1 grid-cols-1 lg:grid-cols-[minmax(0,1fr)_26rem] lg:grid-rows-[auto_1fr] 2xl:grid-cols-[minmax(0,1fr)_34rem]">
        <section id="drawing" aria-label="Drawing" className="min-w-0 lg:border-r lg:border-line">
          {evaluation.error !== null && <EvaluationTrouble error={evaluation.error} undo={undo} />}
          <Drawing
            document={document}
            evaluation={shown}
            catalog={catalog}
            air={dayAir}
            pictures={pictures}
            evaluated={evaluation.document}
            seen={seen}
            onSeen={setSeen}
            selected={part}
            onSelect={setSelected}
            edits={edits}
            low={below === "day"}
            pointed={pointed}
            state={
              <p
                className="mt-0.5 text-sm text-soft"
                role="status"
                data-testid="evaluation-state"
                data-pending={evaluation.pending}
              >
                {evaluation.pending
                  ? "Computing…"
                  : below === "day" && moment
                    ? `As it is at ${clock(moment.hour)}`
                    : SEEN[lampAge]}
              </p>
            }
          />
        </section>
        <section
          id="checks"
          aria-label="Needs and figures"
          className="isolate min-w-0 border-t border-line bg-panel lg:row-span-2 lg:border-t-0"
        >
          <Checks
            evaluation={evaluation.result}
            assessment={assessment}
            onPoint={setPointed}
            proposing={lampAge === "present"}
            onTry={tryFix}
            action={action}
            onPatchAbove={setPatchAbove}
            bodyLength={document.animal.body_length_m}
          />
          <p className="border-t border-line px-4 py-3 text-sm text-soft">
            These figures are predictions until you have measured them in your own enclosure. An
            animal that looks ill or burnt, and any doubt about UV, belongs to a veterinarian who
            knows reptiles.
          </p>
        </section>
        <section
          id="below"
          aria-label={BELOW[below]}
          className="isolate min-w-0 lg:border-r lg:border-line"
        >
          <div className="px-3 py-2">
            <Choice label="Under the drawing" value={below} onChange={setBelow} options={CHOICES} />
          </div>
          {below === "settings" && around && (
            <Inspector
              document={document}
              evaluation={evaluation.result}
              catalog={catalog}
              selected={formShown}
              face={vent && vent.side !== "top" ? vent.side : undefined}
              onSelect={setSelected}
              edits={typed}
            />
          )}
          <Suspense fallback={<p className="p-4 text-soft">Loading…</p>}>
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
            {below === "time" && <ScenariosPanel document={document} day={day} />}
            {below === "whatIf" && <WhatIfPanel state={day} />}
            {below === "build" && <BuildPanel document={document} />}
          </Suspense>
        </section>
      </main>
      {showRevisions && (
        <Suspense>
          <Revisions
            planId={planId}
            open={showRevisions}
            onOpenChange={setShowRevisions}
            onRestore={editor.commit}
          />
        </Suspense>
      )}
    </div>
  );
}

interface PlanHeaderProps {
  planId: string;
  catalog: Catalog;
  editor: PlanEditor;
  seen: Seen;
  onRevisions: () => void;
}

/** Name and animal, whether it is saved, undo, revisions and the ways out. */
const PlanHeader = memo(function PlanHeader(props: PlanHeaderProps) {
  const { planId, catalog, editor, seen, onRevisions } = props;
  const { document } = editor;
  const species = catalog.species.find((s) => s.id === document.animal.species_id);
  return (
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
      <SaveStatus editor={editor} planId={planId} />
      <div className="flex flex-wrap items-center">
        <UndoButtons editor={editor} />
        <IconButton label="Revisions" onClick={onRevisions}>
          <History size={18} aria-hidden />
        </IconButton>
        <Link
          to={`/plans/${planId}/design`}
          title="Design lamps and heaters anew"
          className="inline-flex min-h-9 items-center gap-1.5 rounded-md px-2 text-sm font-medium hover:bg-wash"
        >
          <DraftingCompass size={18} aria-hidden /> <span className="max-2xl:sr-only">Design</span>
        </Link>
        <Link
          to={`/plans/${planId}/readings`}
          title="Readings"
          className="inline-flex min-h-9 items-center gap-1.5 rounded-md px-2 text-sm font-medium hover:bg-wash"
        >
          <Thermometer size={18} aria-hidden /> <span className="max-2xl:sr-only">Readings</span>
        </Link>
        <Link
          to={`/plans/${planId}/keeping`}
          title="Keeping"
          className="inline-flex min-h-9 items-center gap-1.5 rounded-md px-2 text-sm font-medium hover:bg-wash"
        >
          <CalendarCheck size={18} aria-hidden /> <span className="max-2xl:sr-only">Keeping</span>
        </Link>
        <OutputsMenu planId={planId} editor={editor} view={seen.view} field={seen.field} />
      </div>
    </Header>
  );
});

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
