import {
  experimental_streamedQuery as streamedQuery,
  useQuery,
  useQueryClient,
} from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import {
  fetchFailureScenarios,
  fetchMoment,
  runFailureScenario,
  simulateDay,
  type View,
} from "../../../api/client";
import type { FailureOutcome, Moment, PlanDocument, Season } from "../../../api/types";
import { useLatest } from "../../../api/useLatest";
import { fixturesOf } from "../../../domain/plan/document";
import { type DaySeries, unpackedDay } from "./series";

interface DayAsked {
  document: PlanDocument;
  season: Season;
}

const askDay = ({ document, season }: DayAsked) => simulateDay(document, season);

export interface DayState {
  series: DaySeries | null;
  /** What the series belongs to. */
  document: PlanDocument | null;
  season: Season | null;
  error: unknown;
  pending: boolean;
}

/** The simulated day of a document that has been left alone for a moment. */
export function useDay(document: PlanDocument, season: Season, wanted: boolean): DayState {
  const [asked, setAsked] = useState<DayAsked | null>(null);
  useEffect(() => {
    if (!wanted) {
      setAsked(null);
      return;
    }
    const timer = setTimeout(() => setAsked({ document, season }), 250);
    return () => clearTimeout(timer);
  }, [document, season, wanted]);
  const { result, question, error, pending } = useLatest("day", asked, askDay);
  const series = useMemo(() => {
    if (!result || !question) return null;
    const watts = (id: string) =>
      fixturesOf(question.document).find((f) => f.id === id)?.power_w ?? 0;
    return unpackedDay(result, watts);
  }, [result, question]);
  return {
    series,
    document: question?.document ?? null,
    season: question?.season ?? null,
    error,
    pending: pending || (wanted && (question?.document !== document || question.season !== season)),
  };
}

interface MomentAsked {
  document: PlanDocument;
  season: Season;
  hour: number;
  view: View;
}

const askMoment = (m: MomentAsked) => fetchMoment(m.document, m.season, m.hour, m.view);

/** Fields at an hour of a simulated day. */
export function useMoment(
  state: DayState,
  hour: number,
  view: View,
  wanted: boolean,
): Moment | null {
  const { document, season } = state;
  // By the half hour, as the server caches them.
  const half = Math.round(hour * 2) / 2;
  const asked = useMemo(
    () => (wanted && document && season ? { document, season, hour: half, view } : null),
    [wanted, document, season, half, view],
  );
  return useLatest("moment", asked, askMoment).result;
}

export interface FailureScenariosState {
  outcomes: readonly FailureOutcome[];
  total: number | null;
  running: boolean;
  /** Stopped by hand, perhaps before any test was run. */
  stopped: boolean;
  error: unknown;
  stop: () => void;
  start: () => void;
}

type Part = { kind: "total"; total: number } | { kind: "outcome"; outcome: FailureOutcome };

/** How many tests there are, then what comes of each. */
async function* runTests(
  document: PlanDocument,
  season: Season,
  signal: AbortSignal,
): AsyncGenerator<Part> {
  const scenarios = await fetchFailureScenarios(document, season, signal);
  yield { kind: "total", total: scenarios.length };
  for (const { id } of scenarios) {
    const outcome = await runFailureScenario(document, season, id, signal);
    yield { kind: "outcome", outcome };
  }
}

/** What-if tests one after another, in the order they come; they can be stopped and started again. */
export function useFailureScenarios(state: DayState): FailureScenariosState {
  const { document, season } = state;
  const client = useQueryClient();
  const ready = document !== null && season !== null;
  const { data, error, isFetching, refetch } = useQuery({
    queryKey: ["what-if", document, season],
    queryFn: streamedQuery({
      streamFn: ({ signal }) => runTests(document as PlanDocument, season as Season, signal),
    }),
    enabled: ready,
    retry: false,
    refetchOnReconnect: false,
    gcTime: 10_000,
    structuralSharing: false,
  });
  const parts = data ?? [];
  const total = parts.find((p) => p.kind === "total")?.total ?? null;
  const outcomes = parts.flatMap((p) => (p.kind === "outcome" ? [p.outcome] : []));
  return {
    outcomes,
    total,
    running: isFetching,
    stopped: ready && !isFetching && error === null && outcomes.length !== total,
    error,
    stop: () => void client.cancelQueries({ queryKey: ["what-if"] }),
    start: () => void refetch(),
  };
}
