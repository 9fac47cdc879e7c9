/** What is known of the enclosures: computed by the server behind everything else, and read from there. */
import { useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import { fetchRoomResults } from "../../api/client";
import type { EnclosureResults, PlanSummary, RoomResults } from "../../api/types";

/** How often more is asked for while something is computed, ms. */
const POLLED_MS = 1500;
/** As many enclosures on show are named at most. */
const MOST_SHOWN = 60;

export interface Results {
  /** What is known of an enclosure as it is now. */
  of: (plan: PlanSummary) => EnclosureResults | undefined;
  /** Of how many enclosures the checks and the year are known. */
  checked: number;
  forecast: number;
  error: Error | null;
  /** Says that an enclosure came on show, or went. */
  onShow: (planId: string, isShown: boolean) => void;
}

/** The results of enclosures, asked for again as long as any are missing and after every revision. */
export function useResults(plans: readonly PlanSummary[]): Results {
  const shown = useRef(new Set<string>());
  const { data, error } = useQuery({
    queryKey: ["room-results"],
    queryFn: ({ signal }) => fetchRoomResults([...shown.current].slice(0, MOST_SHOWN), signal),
    staleTime: 0,
    // What is shown may be of an older revision: then, too, there is something to ask for.
    refetchInterval: ({ state }) => (isComplete(state.data, plans) ? false : POLLED_MS),
  });
  const known = newest(data);
  const of = (plan: PlanSummary) => known.get(`${plan.id} ${plan.revision}`);
  return {
    of,
    checked: plans.filter((p) => of(p)?.checks).length,
    forecast: plans.filter((p) => of(p)?.forecast).length,
    error,
    onShow: (planId, isShown) => {
      if (isShown) shown.current.add(planId);
      else shown.current.delete(planId);
    },
  };
}

/** Results by plan and revision. */
const newest = (data: RoomResults | undefined): ReadonlyMap<string, EnclosureResults> =>
  new Map((data?.enclosures ?? []).map((e) => [`${e.plan_id} ${e.revision}`, e]));

/** Whether the checks and the year of every plan as it is now are known. */
export function isComplete(data: RoomResults | undefined, plans: readonly PlanSummary[]): boolean {
  const known = newest(data);
  return plans.every((p) => {
    const found = known.get(`${p.id} ${p.revision}`);
    return found?.checks && found.forecast;
  });
}

/** How much of an enclosure asks for a change; undefined while that is not known. */
export function toChange(results: EnclosureResults | undefined): number | undefined {
  const checks = results?.checks;
  return checks && !checks.problem ? checks.failing : undefined;
}
