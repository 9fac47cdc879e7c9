/** What a round needs at the enclosure, stored in the browser so that it opens without a connection. */
import { useQuery } from "@tanstack/react-query";
import { fetchCatalog, fetchPlan } from "../../api/client";
import { fetchInstruments, fetchReadings, fetchRound } from "../../api/readings";
import type { Catalog, Instrument, PlanSummary, Reading, ReadingRound } from "../../api/types";

export interface OfflineRound {
  readonly round: ReadingRound;
  readonly plan: PlanSummary;
  readonly catalog: Catalog;
  readonly instruments: readonly Instrument[];
  /** Those of the round that are stored. */
  readonly readings: readonly Reading[];
}

interface Opened {
  readonly stored: OfflineRound | null;
  readonly error: unknown;
  /** Whether what is shown was fetched since the page was opened. */
  readonly fresh: boolean;
}

const key = (roundId: string) => `round-${roundId}`;
const PREFIX = "round-";
const MOST_STORED = 5;

function remembered(roundId: string): OfflineRound | null {
  try {
    return JSON.parse(localStorage.getItem(key(roundId)) ?? "null") as OfflineRound | null;
  } catch {
    return null;
  }
}

/** Store a round for when there is no connection, with what was read so far. */
export function remember(found: OfflineRound): void {
  try {
    const old = Object.keys(localStorage).filter(
      (k) => k.startsWith(PREFIX) && k !== key(found.round.id),
    );
    for (const k of old.slice(0, Math.max(0, old.length - MOST_STORED + 1))) {
      localStorage.removeItem(k);
    }
    localStorage.setItem(key(found.round.id), JSON.stringify(found));
  } catch {
    // Private windows may refuse; then the round lasts as long as the page.
  }
}

async function fetchOfflineRound(planId: string, roundId: string): Promise<OfflineRound> {
  const [round, plan, catalog, instruments, list] = await Promise.all([
    fetchRound(roundId),
    fetchPlan(planId),
    fetchCatalog(),
    fetchInstruments(),
    fetchReadings(planId),
  ]);
  const readings = list.readings.map((r) => r.reading).filter((r) => r.round_id === roundId);
  const stored = { round, plan, catalog, instruments, readings };
  remember(stored);
  return stored;
}

/** A round with everything it needs, from the browser's storage at once and fresh when it can be had. */
export function useRound(planId: string, roundId: string): Opened {
  const { data, error, isFetchedAfterMount, isSuccess } = useQuery({
    queryKey: ["round", planId, roundId],
    queryFn: () => fetchOfflineRound(planId, roundId),
    initialData: () => remembered(roundId) ?? undefined,
    initialDataUpdatedAt: 0,
    staleTime: 0,
    retry: false,
    refetchOnReconnect: "always",
  });
  return { stored: data ?? null, error, fresh: isSuccess && isFetchedAfterMount };
}
