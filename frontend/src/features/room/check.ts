/** What an enclosure of the room comes to, as its card and the filter above the cards ask. */
import { queryOptions } from "@tanstack/react-query";
import { evaluate } from "../../api/client";
import type { Evaluation, PlanSummary } from "../../api/types";
import { fails } from "../../domain/units/needs";

export const checkOf = (plan: PlanSummary) =>
  queryOptions({
    queryKey: ["check", plan.id, plan.revision],
    queryFn: () => evaluate(plan.document),
    staleTime: Number.POSITIVE_INFINITY,
  });

/** How many needs and findings ask for a change; 0 while that is not known. */
export function toChange(result: Evaluation | undefined): number {
  return [...(result?.checks ?? []), ...(result?.findings ?? [])].filter((v) => fails(v.severity))
    .length;
}
