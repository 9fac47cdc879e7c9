import type { Catalog, PlanSummary } from "../../api/types";
import { hasWords } from "../../ui/SearchField";

/** Whether a plan's name and the names of its animal have all the words of a search. */
export function matches(plan: PlanSummary, catalog: Catalog | null, wanted: string): boolean {
  const species = catalog?.species.find((s) => s.id === plan.document.animal.species_id);
  return hasWords([plan.name, species?.common_name, species?.scientific_name].join(" "), wanted);
}
