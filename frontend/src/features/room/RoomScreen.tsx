import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Plus, ShieldCheck, Thermometer, Upload } from "lucide-react";
import { useEffect, useState } from "react";
import { Link, useNavigate } from "react-router";
import {
  createPlan,
  fetchCatalog,
  fetchLiveReadings,
  fetchPlans,
  fetchRoom,
  ProblemError,
  removePlan,
  setRoomLayout,
} from "../../api/client";
import { fetchToday } from "../../api/tasks";
import type { PlanDocument, PlanSummary, RoomLayout, Today } from "../../api/types";
import { Header } from "../../app/Header";
import { describe, useNotify } from "../../app/notices";
import { useQueuedMutation } from "../../app/useQueuedMutation";
import { isoDay } from "../../domain/logbook/days";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { FileButton } from "../../ui/FileButton";
import { SearchField } from "../../ui/SearchField";
import { SettledMain } from "../../ui/Settled";
import { isFirstVisit, rememberVisit } from "../welcome/sample";
import { Welcome } from "../welcome/Welcome";
import { Archived } from "./Archived";
import { ClimatePanel } from "./ClimatePanel";
import { matches } from "./matches";
import { PlanCard } from "./PlanCard";
import { RackLayout } from "./RackLayout";
import { type Results, toChange, useResults } from "./results";
import { useRestore } from "./useRestore";

const LARGEST_FILE = 1_000_000;
/** How often the loggers' newest readings are asked for. */
const LIVE_EVERY_MS = 60_000;

type Shown = "all" | "change" | "fits" | "archive";

/** All enclosures, found by name, animal or check, and the way to bring one in from a file. */
export function RoomScreen() {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const notify = useNotify();
  const plans = useQuery({ queryKey: ["plans"], queryFn: fetchPlans, staleTime: 0 });
  const catalog = useQuery({ queryKey: ["catalog"], queryFn: fetchCatalog, staleTime: Infinity });
  const [text, setText] = useState("");
  const [shown, setShown] = useState<Shown>("all");
  const room = useQuery({ queryKey: ["room"], queryFn: fetchRoom });
  const [arranged, setArranged] = useState<"racks" | "list">("racks");
  const [climateOpen, setClimateOpen] = useState(false);
  const refresh = () => queries.invalidateQueries({ queryKey: ["plans"] });
  useEffect(() => {
    document.title = "The room · Noon Shade";
  }, []);

  const bringIn = useMutation({
    mutationFn: async (file: File) =>
      createPlan(await readPlanFile(file), `Imported: ${file.name}`.slice(0, 200)),
    onSuccess: (plan) => {
      void refresh();
      void navigate(`/plans/${plan.id}`);
    },
    onError: (error, file) => {
      const { title, detail } = describe(error);
      notify({
        title: `${file.name} was not imported`,
        detail: `${title}. ${detail}`,
        tone: "trouble",
      });
    },
  });
  const duplicate = useMutation({
    mutationFn: (plan: PlanSummary) => {
      const taken = new Set((plans.data ?? []).map((p) => p.name));
      const document = { ...plan.document, name: freeName(plan.name, taken) };
      return createPlan(document, `Copy of ${plan.name}, revision ${plan.revision}`.slice(0, 200));
    },
    onSuccess: (plan) => {
      void refresh();
      notify({
        title: `${plan.name} was made`,
        tone: "plain",
        action: { label: "Open it", run: () => void navigate(`/plans/${plan.id}`) },
      });
    },
    onError: (error) => notify({ ...describe(error), tone: "trouble" }),
  });
  const restore = useRestore();
  const archive = useMutation({
    mutationFn: (plan: PlanSummary) => removePlan(plan.id),
    onSuccess: (_, plan) => {
      void refresh();
      void queries.invalidateQueries({ queryKey: ["archive"] });
      notify({
        title: `${plan.name} was archived`,
        tone: "plain",
        action: {
          label: "Bring it back",
          run: () => restore.mutate(plan.id),
        },
      });
    },
    onError: (error) => notify({ ...describe(error), tone: "trouble" }),
  });

  const all = plans.data ?? [];
  const isEmpty = plans.data?.length === 0;
  // Who is here for the first time sees an enclosure at work before an empty room.
  useEffect(() => {
    if (!plans.data) return;
    if (isEmpty && isFirstVisit()) void navigate("/sample", { replace: true });
    rememberVisit();
  }, [plans.data, isEmpty, navigate]);
  const results = useResults(all);
  const on = isoDay();
  const today = useQuery({ queryKey: ["today", on], queryFn: () => fetchToday(on) });
  const live = useQuery({
    queryKey: ["room-live"],
    queryFn: fetchLiveReadings,
    refetchInterval: LIVE_EVERY_MS,
  });
  const open = new Map(
    (today.data?.groups ?? []).flatMap((g) => (g.plan_id ? [[g.plan_id, g.open.length]] : [])),
  );
  const runQueued = useQueuedMutation(["room"]);
  // Stored whole, and shown before it is stored.
  const arrange = async (layout: RoomLayout, done: string, before: RoomLayout) => {
    void queries.cancelQueries({ queryKey: ["room"] });
    queries.setQueryData(["room"], (old: typeof room.data) => (old ? { ...old, layout } : old));
    if (!(await runQueued(() => setRoomLayout(layout), "layout"))) return;
    notify({
      title: done,
      tone: "plain",
      action: {
        label: "Undo",
        run: () => void arrange(before, "Restored", layout),
      },
    });
  };
  const layout = room.data?.layout;
  const card = (plan: PlanSummary) => (
    <PlanCard
      key={plan.id}
      plan={plan}
      catalog={catalog.data ?? null}
      results={results.of(plan)}
      tasks={today.data && (open.get(plan.id) ?? 0)}
      live={(live.data ?? []).filter((r) => r.plan_id === plan.id)}
      onShow={results.onShow}
      busy={duplicate.isPending}
      onDuplicate={() => duplicate.mutate(plan)}
      onArchive={() => archive.mutate(plan)}
      {...(layout
        ? {
            layout,
            onLayout: (next: RoomLayout, done: string) => void arrange(next, done, layout),
          }
        : {})}
    />
  );
  const isPicked = shown === "change" || shown === "fits";
  const assessing = isPicked && results.checked < all.length && !results.error;
  const found = all.filter((plan) => {
    if (!matches(plan, catalog.data ?? null, text)) return false;
    if (!isPicked) return true;
    const failing = toChange(results.of(plan));
    return failing !== undefined && failing > 0 === (shown === "change");
  });

  return (
    <div className="min-h-screen">
      <Header />
      <SettledMain className="mx-auto max-w-[110rem] px-4 py-3">
        <div className="mb-2 flex flex-wrap items-center justify-between gap-3">
          <div>
            <h1 className="text-2xl leading-tight font-semibold">The room</h1>
            <Summary plans={all} results={results} tasks={today.data} />
          </div>
          <div className="flex flex-wrap gap-2">
            <Button onClick={() => setClimateOpen(true)}>
              <Thermometer size={17} aria-hidden /> Climate of the room
            </Button>
            <Link
              to="/backups"
              className="inline-flex min-h-9 items-center gap-1.5 rounded-md border border-edge bg-raised px-3 font-medium hover:bg-wash"
            >
              <ShieldCheck size={17} aria-hidden /> Backups
            </Link>
            <FileButton
              label="Plan file"
              accept=".json,application/json"
              testId="import-file"
              tone="plain"
              disabled={bringIn.isPending}
              onFile={(file) => bringIn.mutate(file)}
            >
              <Upload size={17} aria-hidden />
              {bringIn.isPending ? "Importing…" : "Import a plan"}
            </FileButton>
            <Link
              to="/new"
              className="inline-flex min-h-9 items-center gap-1.5 rounded-md bg-accent px-3 font-medium text-accent-ink hover:opacity-90"
            >
              <Plus size={17} aria-hidden /> New plan
            </Link>
          </div>
        </div>
        {plans.isPending && <p className="text-soft">Loading the enclosures…</p>}
        {plans.isError && (
          <div role="alert" className="rounded-lg border border-high bg-high-wash p-4">
            <p className="font-semibold text-high">{describe(plans.error).title}</p>
            <p>{describe(plans.error).detail}</p>
            <Button className="mt-2" onClick={() => void plans.refetch()}>
              Try again
            </Button>
          </div>
        )}
        {isEmpty && shown !== "archive" && (
          <Welcome catalog={catalog.data ?? null}>
            <Button className="min-h-11 px-4" onClick={() => setShown("archive")}>
              Look into the archive
            </Button>
          </Welcome>
        )}
        {all.length > 0 || shown === "archive" ? (
          <div className="mb-2 flex flex-wrap items-end gap-3">
            <div className="min-w-56 flex-1 sm:max-w-sm">
              <SearchField
                label="Find an enclosure by name or animal"
                hidden
                placeholder="Name or animal"
                value={text}
                onChange={setText}
              />
            </div>
            <Choice
              label="Enclosures shown"
              value={shown}
              onChange={setShown}
              options={[
                { value: "all", label: "All" },
                { value: "change", label: "To change" },
                { value: "fits", label: "Nothing fails" },
                { value: "archive", label: "Archive" },
              ]}
            />
            {shown !== "archive" && (
              <Choice
                label="Arranged"
                value={arranged}
                onChange={setArranged}
                options={[
                  { value: "racks", label: "By rack" },
                  { value: "list", label: "List" },
                ]}
              />
            )}
            <p role="status" className="pb-1.5 text-sm text-soft" data-testid="enclosures-found">
              {shown === "archive" ? "" : `${found.length} of ${all.length}`}
            </p>
            {shown !== "archive" && <Computing results={results} of={all.length} />}
          </div>
        ) : null}
        {shown === "archive" ? (
          <Archived catalog={catalog.data ?? null} search={text} />
        ) : (
          <>
            {all.length > 0 && found.length === 0 && !assessing && (
              <p className="rounded-lg border border-dashed border-edge p-8 text-center text-soft">
                No enclosure {text.trim() ? <>matches “{text.trim()}”</> : "is of this kind"}.{" "}
                <Button
                  size="small"
                  onClick={() => {
                    setText("");
                    setShown("all");
                  }}
                >
                  Show all
                </Button>
              </p>
            )}
            {isEmpty || (arranged === "racks" && room.isPending) ? null : arranged === "racks" &&
              layout ? (
              <RackLayout
                layout={layout}
                plans={all}
                found={new Set(found.map((p) => p.id))}
                onLayout={(next, done) => void arrange(next, done, layout)}
                card={card}
              />
            ) : (
              <ul className="grid grid-cols-[repeat(auto-fill,minmax(min(100%,22rem),1fr))] gap-3">
                {found.map((plan) => card(plan))}
              </ul>
            )}
          </>
        )}
        {all.length > 0 && (
          <p className="mt-4 flex flex-wrap gap-x-6 gap-y-2 text-sm">
            {all.length > 1 && (
              <Link
                to="/compare"
                className="inline-flex min-h-6 items-center font-semibold text-accent underline"
              >
                Compare two enclosures side by side
              </Link>
            )}
            <Link
              to="/sample"
              className="inline-flex min-h-6 items-center font-semibold text-accent underline"
            >
              Open the sample enclosure
            </Link>
          </p>
        )}
      </SettledMain>
      <ClimatePanel
        climate={room.data?.climate ?? null}
        open={climateOpen}
        onOpenChange={setClimateOpen}
      />
    </div>
  );
}

interface SummaryProps {
  plans: readonly PlanSummary[];
  results: Results;
  tasks: Today | undefined;
}

/** Where to look first, in one line. */
function Summary({ plans, results, tasks }: SummaryProps) {
  const known = plans.map((p) => toChange(results.of(p))).filter((n) => n !== undefined);
  const failing = known.filter((n) => n > 0).length;
  const open = (tasks?.groups ?? []).reduce((n, g) => n + g.open.length, 0);
  return (
    // There before it has anything to say, so that nothing moves when it has.
    <p className="flex min-h-6 flex-wrap gap-x-4" data-testid="room-summary">
      {failing > 0 && (
        <span className="font-semibold text-high">
          ▲▼ {failing} {failing === 1 ? "enclosure needs" : "enclosures need"} a change
        </span>
      )}
      {known.length > failing && (
        <span className="font-semibold text-fit">● nothing fails in {known.length - failing}</span>
      )}
      {open > 0 && (
        <Link to="/today" className="inline-flex items-center text-accent underline">
          {open} {open === 1 ? "task" : "tasks"} today
        </Link>
      )}
    </p>
  );
}

/** How far the server is with what the cards show. */
function Computing({ results, of }: { results: Results; of: number }) {
  if (results.error) {
    const { title, detail } = describe(results.error);
    return (
      <p role="alert" className="pb-1.5 text-sm text-high">
        Checks cannot be shown: {title}. {detail}
      </p>
    );
  }
  const done = results.checked + results.forecast;
  if (done === 2 * of) return null;
  return (
    <p className="flex items-center gap-2 pb-1.5 text-sm text-soft" data-testid="computing">
      <progress
        className="h-2 w-24"
        value={done}
        max={2 * of}
        aria-label="Enclosures checked, now and over the year"
      />
      {results.checked < of
        ? `Checked: ${results.checked} of ${of}`
        : `Checked over the year: ${results.forecast} of ${of}`}
    </p>
  );
}

const LONGEST_NAME = 80;

/** "Name (copy)", or with a number if that is taken. */
function freeName(name: string, taken: ReadonlySet<string>): string {
  const stem = name.replace(/ \(copy( \d+)?\)$/, "").slice(0, LONGEST_NAME - 12);
  for (let n = 1; ; n++) {
    const next = n === 1 ? `${stem} (copy)` : `${stem} (copy ${n})`;
    if (!taken.has(next)) return next;
  }
}

/** Read a file as JSON; what is in it is checked by the server. */
async function readPlanFile(file: File): Promise<PlanDocument> {
  const refuse = (detail: string) =>
    new ProblemError({
      type: "/problems/file",
      title: "The file cannot be read",
      status: 0,
      detail,
    });
  if (file.size > LARGEST_FILE) throw refuse("A plan file has at most 1 MB.");
  const text = await file.text();
  try {
    return JSON.parse(text) as PlanDocument;
  } catch (error) {
    throw refuse(`It is not JSON: ${error instanceof Error ? error.message : "unreadable"}`);
  }
}
