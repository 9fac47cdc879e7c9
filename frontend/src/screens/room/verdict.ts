/** What a box of the room comes to, as its card and the filter above the cards ask. */
import { queryOptions } from "@tanstack/react-query";
import { evaluate } from "../../api/client";
import type { Evaluation, PlanSummary } from "../../api/types";
import { fails } from "../../units/needs";

export const verdictOf = (plan: PlanSummary) =>
  queryOptions({
    queryKey: ["verdict", plan.id, plan.revision],
    queryFn: () => evaluate(plan.document),
    staleTime: Number.POSITIVE_INFINITY,
  });

/** How many needs and findings ask for a change; 0 while that is not known. */
export function toChange(result: Evaluation | undefined): number {
  return [...(result?.verdicts ?? []), ...(result?.findings ?? [])].filter((v) => fails(v.severity))
    .length;
}
