import { useEffect, useMemo, useRef, useState } from "react";
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

const askDay = ({ document, season }: { document: PlanDocument; season: Season }) =>
  simulateDay(document, season).then((day) => ({ day, document, season }));

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
  const [asked, setAsked] = useState<{ document: PlanDocument; season: Season } | null>(null);
  useEffect(() => {
    if (!wanted) {
      setAsked(null);
      return;
    }
    const timer = setTimeout(() => setAsked({ document, season }), 250);
    return () => clearTimeout(timer);
  }, [document, season, wanted]);
  const { result, error, pending } = useLatest(asked, askDay);
  const series = useMemo(() => {
    if (!result) return null;
    const watts = (id: string) =>
      fixturesOf(result.document).find((f) => f.id === id)?.power_w ?? 0;
    return unpackedDay(result.day, watts);
  }, [result]);
  return {
    series,
    document: result?.document ?? null,
    season: result?.season ?? null,
    error,
    pending: pending || (wanted && (result?.document !== document || result?.season !== season)),
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
  // Kept by the half hour, as the server keeps them.
  const half = Math.round(hour * 2) / 2;
  const asked = useMemo(
    () => (wanted && document && season ? { document, season, hour: half, view } : null),
    [wanted, document, season, half, view],
  );
  return useLatest(asked, askMoment).result;
}

export interface FailureScenariosState {
  outcomes: readonly FailureOutcome[];
  total: number | null;
  running: boolean;
  /** Stopped by hand, perhaps before anything was played. */
  stopped: boolean;
  error: unknown;
  stop: () => void;
  start: () => void;
}

/** What-if tests one after another, in the order they come; they can be stopped and started again. */
export function useFailureScenarios(state: DayState): FailureScenariosState {
  const { document, season } = state;
  const [outcomes, setOutcomes] = useState<readonly FailureOutcome[]>([]);
  const [total, setTotal] = useState<number | null>(null);
  const [running, setRunning] = useState(false);
  const [stopped, setStopped] = useState(false);
  const [error, setError] = useState<unknown>(null);
  const [round, setRound] = useState(0);
  const control = useRef<AbortController | null>(null);
  useEffect(() => {
    // A new round starts anew although nothing else changed.
    void round;
    if (!document || !season) return;
    const mine = new AbortController();
    control.current = mine;
    setOutcomes([]);
    setTotal(null);
    setError(null);
    setRunning(true);
    setStopped(false);
    void (async () => {
      try {
        const failureScenarios = await fetchFailureScenarios(document, season, mine.signal);
        setTotal(failureScenarios.length);
        for (const failureScenario of failureScenarios) {
          const outcome = await runFailureScenario(
            document,
            season,
            failureScenario.id,
            mine.signal,
          );
          if (mine.signal.aborted) return;
          setOutcomes((all) => [...all, outcome]);
        }
      } catch (problem) {
        if (!mine.signal.aborted) setError(problem);
      } finally {
        if (control.current === mine) setRunning(false);
      }
    })();
    return () => mine.abort();
  }, [document, season, round]);
  return {
    outcomes,
    total,
    running,
    stopped,
    error,
    stop: () => {
      control.current?.abort();
      setRunning(false);
      setStopped(true);
    },
    start: () => setRound((n) => n + 1),
  };
}
