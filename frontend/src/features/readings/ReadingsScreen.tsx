import { useQuery, useQueryClient } from "@tanstack/react-query";
import { ClipboardList, Download } from "lucide-react";
import { useEffect, useMemo } from "react";
import { Link, useNavigate } from "react-router";
import { fetchInstruments, fetchReadings, predict, startRound } from "../../api/readings";
import type { ReadingRound } from "../../api/types";
import { describe } from "../../app/notices";
import { useAction } from "../../app/useAction";
import { onStored, useOutbox, type Waiting } from "../../domain/readings/outbox";
import { Button } from "../../ui/Button";
import { EnclosureBar } from "../plan/EnclosureBar";
import { EnclosurePage } from "../plan/EnclosurePage";
import { useOpenPlan } from "../plan/PlanFrame";
import type { PlanEditor } from "../plan/usePlanEditor";
import { useUndoKeys } from "../plan/useUndoKeys";
import { AddReading } from "./AddReading";
import { BehaviourPanel } from "./BehaviourPanel";
import { CommissioningPanel } from "./CommissioningPanel";
import { FitPanel } from "./FitPanel";
import { InstrumentList } from "./InstrumentList";
import { LoggerList } from "./LoggerList";
import { OutboxStatus } from "./OutboxStatus";
import { ReadingRows } from "./ReadingRows";

/** An enclosure and what was read in it: rounds, readings against predictions, and what they say of the enclosure. */
export function ReadingsScreen() {
  const { planId, catalog, editor } = useOpenPlan();
  const { document } = editor;
  const cache = useQueryClient();
  const list = useQuery({
    queryKey: ["readings", planId],
    queryFn: () => fetchReadings(planId),
    staleTime: 0,
  });
  const instruments = useQuery({ queryKey: ["instruments"], queryFn: fetchInstruments });
  useEffect(
    () =>
      onStored((done) => {
        const mine = done.filter((w) => w.planId === planId);
        if (mine.length === 0) return;
        cache.setQueryData<ReadingList>(["readings", planId], (old) => old && over(old, mine));
        void cache.invalidateQueries({ queryKey: ["readings", planId] });
      }),
    [cache, planId],
  );
  useUndoKeys(editor.undo, editor.redo);
  useEffect(() => {
    window.document.title = `Readings · ${document.name} · Noon Shade`;
  }, [document.name]);
  const { waiting } = useOutbox();
  const readings = useMemo(() => {
    const mine = waiting.filter((w) => w.planId === planId && w.refused === undefined);
    return list.data ? over(list.data, mine).readings : [];
  }, [list.data, waiting, planId]);
  const asked = useMemo(() => readings.map((r) => r.reading), [readings]);
  const places = JSON.stringify(asked.map((r) => [r.kind, r.at_m, r.instrument_id]));
  const ahead = useQuery({
    queryKey: ["predicted", JSON.stringify(document), places],
    queryFn: ({ signal }) => predict(document, asked, signal),
    enabled: asked.length > 0,
    staleTime: Infinity,
  });
  const predicted = useMemo(
    () => new Map(asked.map((r, i) => [r.id, ahead.data?.[i]] as const)),
    [asked, ahead.data],
  );
  return (
    <EnclosurePage
      bar={<EnclosureBar planId={planId} catalog={catalog} editor={editor} />}
      mainLabel="Rounds, readings, tests"
      main={
        <>
          <RoundCard
            planId={planId}
            editor={editor}
            rounds={list.data?.rounds ?? []}
            count={readings.length}
          />
          <section
            aria-label="Readings"
            className="rounded-xl border border-line bg-panel"
            data-testid="readings"
          >
            <div className="flex flex-wrap items-center gap-x-4 gap-y-1 px-4 pt-3">
              <h2 className="w-full text-lg font-semibold sm:w-auto sm:flex-1">
                Readings against what was expected
              </h2>
              <AddReading
                planId={planId}
                revision={editor.revision}
                document={document}
                instruments={instruments.data ?? []}
              />
              <a
                href={`/api/plans/${planId}/readings.csv`}
                className="inline-flex min-h-9 items-center gap-1.5 rounded-md px-2 text-sm font-medium hover:bg-wash"
              >
                <Download size={16} aria-hidden /> As CSV
              </a>
            </div>
            <div className="px-4">
              <OutboxStatus />
            </div>
            {list.error && (
              <p role="alert" className="px-4 pb-3 text-high">
                {describe(list.error).title}: {describe(list.error).detail}
              </p>
            )}
            <ReadingRows
              planId={planId}
              readings={readings}
              predicted={predicted}
              loading={list.isPending}
              instruments={instruments.data ?? []}
            />
          </section>
          <CommissioningPanel
            planId={planId}
            version={`${editor.revision} ${JSON.stringify(list.data?.readings ?? [])}`}
          />
          <BehaviourPanel planId={planId} document={document} catalog={catalog} />
          <LoggerList planId={planId} revision={editor.revision} document={document} />
          <InstrumentList instruments={instruments.data ?? []} />
        </>
      }
      sideLabel="What the readings say of the plan"
      side={
        <FitPanel
          planId={planId}
          editor={editor}
          catalog={catalog}
          readings={readings}
          version={places}
        />
      }
    />
  );
}

type ReadingList = Awaited<ReturnType<typeof fetchReadings>>;

/** A list with readings that are on their way to it. */
function over(list: ReadingList, waiting: readonly Waiting[]): ReadingList {
  const changed = new Map(waiting.map((w) => [w.reading.id, w.reading]));
  const known = new Set(list.readings.map((r) => r.reading.id));
  const fresh = waiting.filter((w) => !known.has(w.reading.id));
  return {
    ...list,
    readings: [
      ...list.readings.map((r) => ({ ...r, reading: changed.get(r.reading.id) ?? r.reading })),
      ...fresh.map((w) => ({ reading: w.reading, due: null })),
    ],
  };
}

interface RoundCardProps {
  planId: string;
  editor: PlanEditor;
  rounds: readonly ReadingRound[];
  count: number;
}

/** The round to take next, and the way to it. */
function RoundCard({ planId, editor, rounds, count }: RoundCardProps) {
  const navigate = useNavigate();
  const open = rounds.find((r) => r.closed_at === null);
  const propose = useAction(
    async () => {
      // A round is of the plan as it is stored.
      await editor.flush();
      return startRound(planId);
    },
    (made) => navigate(`/plans/${planId}/rounds/${made.id}`),
  );
  return (
    <section aria-label="Round" className="rounded-xl border border-line bg-panel p-4">
      <div className="flex flex-wrap items-center gap-3">
        <ClipboardList size={28} aria-hidden className="text-accent" />
        <div className="min-w-64 flex-1">
          <h2 className="text-lg font-semibold">
            {count === 0 ? "Nothing has been read in this enclosure yet" : "The next round"}
          </h2>
          <p className="text-sm text-soft">
            {open
              ? `A round of ${open.tasks.length} readings is begun (${dayOf(open.started_at)}).`
              : "The few readings that tell most about this enclosure: where, with what, and why."}{" "}
            Use a phone at the enclosure; no connection is needed.
          </p>
        </div>
        <div className="flex flex-wrap gap-2">
          {open && (
            <Link
              to={`/plans/${planId}/rounds/${open.id}`}
              className="inline-flex min-h-11 items-center rounded-md bg-accent px-4 font-medium text-accent-ink"
            >
              Continue it
            </Link>
          )}
          <Button
            tone={open ? "plain" : "strong"}
            className="min-h-11 px-4"
            disabled={propose.isPending}
            onClick={() => propose.mutate()}
          >
            {propose.isPending ? "Computing…" : open ? "Propose a new one" : "Propose a round"}
          </Button>
        </div>
      </div>
    </section>
  );
}

const dayOf = (moment: string) =>
  new Date(moment).toLocaleDateString([], { day: "numeric", month: "long", year: "numeric" });
