/** What the checks say in one line: never more than they do. */
import type { Evaluation } from "../../api/types";
import { fails } from "../../domain/units/needs";
import type { Assessment } from "./useEvaluation";

export interface Headline {
  /** Checks and findings that need a change. */
  readonly failing: number;
  readonly text: string;
}

export function headline(evaluation: Evaluation, assessment: Assessment): Headline {
  const { intervals, settled } = assessment;
  const faults = evaluation.findings.filter((f) => fails(f.severity)).length;
  const failing = faults + evaluation.checks.filter((v) => fails(v.severity)).length;
  const required = evaluation.checks.filter((v) => v.required);
  const unsure = required.filter((v) => (intervals[v.id]?.status ?? v.status) === "uncertain");
  const said = (text: string): Headline => ({ failing, text });
  if (failing > 0) {
    const all = evaluation.checks.length + faults;
    return said(`${failing} of ${all} checks ${failing === 1 ? "needs" : "need"} a change`);
  }
  if (settled === null) return said("Nothing fails as computed");
  return unsure.length > 0
    ? said(`Nothing fails, ${unsure.length} of ${required.length} checks uncertain`)
    : said(`All ${required.length} checks pass`);
}
