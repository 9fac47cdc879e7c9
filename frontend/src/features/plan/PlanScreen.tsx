import { History } from "lucide-react";
import {
  lazy,
  Suspense,
  useCallback,
  useDeferredValue,
  useEffect,
  useMemo,
  useRef,
  useState,
  useSyncExternalStore,
} from "react";
import { FRONT } from "../../api/client";
import type { PictureQuestion } from "../../api/picture";
import type { Fix, LampAge, PlanDocument, Season } from "../../api/types";
import { describe } from "../../app/notices";
import { TourInvitation } from "../../app/Tour";
import { airRange, type FieldName, unpacked } from "../../canvas/fields";
import { firstLayer } from "../../canvas/firstLayer";
import { SelectionContext } from "../../canvas/selection";
import { fixturesOf, furnishingsOf, thermostatsOf } from "../../domain/plan/document";
import { furnishingKey } from "../../domain/plan/furnishings";
import { applyPatch } from "../../domain/plan/patch";
import { ventKey, ventsOf } from "../../domain/plan/vents";
import { Button } from "../../ui/Button";
import { useMedia } from "../../ui/useMedia";
import { FixEverything } from "../design/FixEverything";
import { SAMPLE_WORDS, SampleActions } from "../welcome/SampleStrip";
import { SAMPLE_ID } from "../welcome/sample";
import { Checks } from "./Checks";
import { type Drawer, DrawerTabs } from "./DrawerTabs";
import { Drawing } from "./Drawing";
import { clock, evaluationAt } from "./day/series";
import { useDay, useMoment } from "./day/useDay";
import { EnclosureBar } from "./EnclosureBar";
import { headline } from "./headline";
import { ItemClipboardContext } from "./itemClipboard";
import { LivePictures } from "./livePictures";
import { OutputsMenu } from "./OutputsMenu";
import { type PaneName, Panes } from "./Panes";
import { Opening, useOpenPlan } from "./PlanFrame";
import { PARTS } from "./parts";
import { type Seen, type SeenFrom, seenFrom } from "./Toolbar";
import { useClipboard } from "./useClipboard";
import { useAssessment, useEvaluation } from "./useEvaluation";
import { useItemSelection } from "./useItemSelection";
import { usePlanCommands } from "./usePlanCommands";
import { useReportPicture } from "./useReportPicture";
import { useUndoKeys } from "./useUndoKeys";

// Not on show at first, or after the first figures: fetched when they are wanted.
const Inspector = lazy(async () => ({ default: (await import("./Inspector")).Inspector }));
const DayPanel = lazy(async () => ({ default: (await import("./day/DayPanel")).DayPanel }));
const ScenariosPanel = lazy(async () => ({
  default: (await import("./ScenariosPanel")).ScenariosPanel,
}));
const WhatIfPanel = lazy(async () => ({
  default: (await import("./day/WhatIfPanel")).WhatIfPanel,
}));
const BuildPanel = lazy(async () => ({ default: (await import("./BuildPanel")).BuildPanel }));
const Revisions = lazy(async () => ({ default: (await import("./Revisions")).Revisions }));

const SEEN: Record<LampAge, string> = {
  present: "By day, once everything is warm",
  new: "As if the UV lamps were new (burned in for 100 h)",
  worn: "As if the UV lamps were at the end of their life",
};

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

const CAUTION = (
  <p className="border-t border-line px-3 py-2 text-sm text-soft">
    These figures are predictions until you have measured them in your own enclosure. An animal that
    looks ill or burnt, and any doubt about UV, belongs to a veterinarian who knows reptiles.
  </p>
);

/** State of an open plan and what is in its panes. */
function Workspace() {
  const { planId, catalog, editor } = useOpenPlan();
  const { document, undo, redo, base, preview, cancel, commit } = editor;
  const pictures = useMemo(() => new LivePictures(preview), [preview]);
  const wanted = useRef<Omit<PictureQuestion, "document"> | null>(null);
  const edits = useMemo(
    () => ({
      base,
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
    [pictures, base, cancel, commit],
  );
  // What is slid in a form stays under the finger, whatever its picture takes.
  const typed = useMemo(
    () => ({
      base,
      preview: (next: PlanDocument) => {
        if (wanted.current) pictures.ask({ ...wanted.current, document: next });
        preview(next);
      },
      cancel,
      commit,
    }),
    [pictures, base, preview, cancel, commit],
  );
  const [chosen, setSeen] = useState<Omit<Seen, "field"> & { field: FieldName | null }>({
    field: null,
    view: FRONT,
    lampAge: "present",
    space: false,
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
  const [drawer, setDrawer] = useState<Drawer | null>(null);
  const [pane, setPane] = useState<PaneName>("drawing");
  // The drawing and its figures are shown first; what lies below them follows at once.
  const around = useDeferredValue(true, false);
  const [season, setSeason] = useState<Season>("now");
  const [hour, setHour] = useState(13);
  const followed = drawer !== null && drawer !== "build";
  const day = useDay(document, season, followed);
  const moment = useMoment(day, hour, view, drawer === "day");
  // One scale for all hours, so that a colour keeps its meaning as the marker moves.
  const dayAir = useMemo(() => {
    const drawn = evaluation.result?.section ?? evaluation.result?.plan_view;
    if (drawer !== "day" || !drawn || !day.series) return null;
    const coolest = [day.series.room, ...day.series.places.map((p) => p.air)];
    return airRange(
      unpacked(drawn.air_c),
      Math.min(...coolest.map((s) => s.values.reduce((a, b) => Math.min(a, b)))) + 1,
    );
  }, [drawer, evaluation.result, day.series]);
  const shown = useMemo(() => {
    if (drawer !== "day" || !evaluation.result || !day.series) return evaluation.result;
    return evaluationAt(evaluation.result, day.series, moment, hour);
  }, [drawer, evaluation.result, day.series, moment, hour]);
  // While something is dragged, pictures of the layer on show come faster than evaluations.
  const powerFraction = evaluation.result?.power_fraction;
  wanted.current =
    drawer === "day" || !powerFraction ? null : { layer: seen.field, view, lampAge, powerFraction };
  const drawn = ["pin:", "vent:"].some((kind) => selected.startsWith(kind));
  // A lamp that was removed, or whose adding was undone, cannot stay selected.
  const kept =
    drawn ||
    [...fixturesOf(document), ...thermostatsOf(document)].some((t) => t.id === selected) ||
    furnishingsOf(document).some((f) => furnishingKey(f.id) === selected);
  const gone = selected.startsWith("furnishing:") ? "furnishings" : "room";
  const part = kept || PARTS.some((one) => one.id === selected) ? selected : gone;
  // What has no separate form leaves the form that is open where it is; vents belong to the enclosure.
  const [form, setForm] = useState(part);
  const vent = ventsOf(document).find((_, i) => selected === ventKey(i));
  const formShown = vent ? (vent.side === "top" ? "lid" : "enclosure") : drawn ? form : part;
  useEffect(() => {
    if (!drawn) setForm(part);
  }, [drawn, part]);

  const selection = useItemSelection(document, part, setSelected);
  const { keys: together, put: selectTogether } = selection;
  const clipboard = useClipboard({
    document,
    catalog,
    keys: useMemo(() => (together.length > 0 ? together : [part]), [together, part]),
    commit,
    onPasted: useCallback(
      (keys: readonly string[]) => {
        setSelected(keys[0] ?? "room");
        selectTogether(keys.length > 1 ? keys : []);
      },
      [selectTogether],
    ),
  });
  const onReport = useReportPicture(planId, editor);
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
  const verdict = evaluation.result && headline(evaluation.result, assessment);
  const failing = verdict?.failing ?? 0;
  const judged = answered ?? document;
  const action = useMemo(
    () => <FixEverything document={judged} failing={failing} onApply={commit} />,
    [judged, failing, commit],
  );

  const showLayer = useCallback(
    (field: FieldName) => setSeen((before) => ({ ...before, field })),
    [],
  );
  // Where one pane is seen at a time, that in which the command shows.
  usePlanCommands({
    document,
    undo,
    redo,
    onLayer: useCallback(
      (field: FieldName) => {
        setPane("drawing");
        showLayer(field);
      },
      [showLayer],
    ),
    onSeenFrom: useCallback((from: SeenFrom) => {
      setPane("drawing");
      setSeen((before) => seenFrom(before, from));
    }, []),
    onDrawer: useCallback((next: Drawer) => {
      setPane("day");
      setDrawer(next);
    }, []),
    onSelect: useCallback((key: string) => {
      setPane("settings");
      setSelected(key);
    }, []),
    onRevisions: openRevisions,
    clipboard,
  });
  const roomy = useMedia("(min-width: 48rem)");
  const showPane = useCallback((next: PaneName) => {
    setPane(next);
    if (next === "day") setDrawer((before) => before ?? "day");
  }, []);
  const drawing = (
    <>
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
        hour={drawer === "day" ? hour : null}
        selected={part}
        onSelect={setSelected}
        edits={edits}
        onReport={onReport}
        onEdit={roomy ? null : () => setPane("settings")}
        pointed={pointed}
        state={
          <p
            className="text-sm text-soft"
            role="status"
            data-testid="evaluation-state"
            data-pending={evaluation.pending}
          >
            {evaluation.pending
              ? "Computing…"
              : drawer === "day" && moment
                ? `At ${clock(moment.hour)}`
                : SEEN[lampAge]}
          </p>
        }
      />
    </>
  );
  const checks = (
    <Checks
      evaluation={evaluation.result}
      assessment={assessment}
      onPoint={setPointed}
      onLayer={showLayer}
      proposing={lampAge === "present"}
      onTry={tryFix}
      action={action}
      onPatchAbove={setPatchAbove}
      bodyLength={document.animal.body_length_m}
    >
      {CAUTION}
    </Checks>
  );
  const settings = around && (
    <Suspense fallback={<p className="p-3 text-soft">Loading…</p>}>
      <Inspector
        document={document}
        evaluation={evaluation.result}
        catalog={catalog}
        selected={formShown}
        face={vent && vent.side !== "top" ? vent.side : undefined}
        onSelect={setSelected}
        edits={typed}
      />
    </Suspense>
  );
  const underneath = drawer && (
    <Suspense fallback={<p className="p-4 text-soft">Loading…</p>}>
      {drawer === "day" && (
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
      {drawer === "time" && <ScenariosPanel document={document} day={day} />}
      {drawer === "whatIf" && <WhatIfPanel state={day} />}
      {drawer === "build" && <BuildPanel document={document} />}
    </Suspense>
  );
  return (
    <div className="flex h-dvh flex-col overflow-hidden print:h-auto print:overflow-visible">
      <EnclosureBar planId={planId} catalog={catalog} editor={editor}>
        {roomy && (
          <Button size="small" tone="quiet" onClick={openRevisions}>
            <History size={18} aria-hidden /> Revisions
          </Button>
        )}
        <OutputsMenu
          planId={planId}
          editor={editor}
          view={seen.view}
          field={seen.field}
          onRevisions={roomy ? undefined : openRevisions}
        />
      </EnclosureBar>
      <TourInvitation
        {...(planId === SAMPLE_ID && {
          words: SAMPLE_WORDS,
          actions: <SampleActions onReset={commit} />,
        })}
      />
      <ItemClipboardContext value={clipboard}>
        <SelectionContext value={selection}>
          <Panes
            drawing={drawing}
            checks={checks}
            settings={settings}
            drawerTabs={
              <DrawerTabs
                open={drawer}
                onOpen={setDrawer}
                photoperiodH={document.photoperiod_h}
                hour={hour}
                onHour={setHour}
              />
            }
            drawer={underneath}
            pane={pane}
            onPane={showPane}
            verdict={verdict}
          />
        </SelectionContext>
      </ItemClipboardContext>
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

function EvaluationTrouble({ error, undo }: { error: unknown; undo: () => void }) {
  const { title, detail } = describe(error);
  return (
    <div role="alert" className="m-2 rounded-lg border border-high bg-high-wash p-3">
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
