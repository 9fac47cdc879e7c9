import { improvePlan } from "../../api/client";
import type { PlanDocument } from "../../api/types";
import { applyPatch } from "./patch";

const MOST_CHANGES = 8;

/** A document with every fix that breaks nothing applied; stopping keeps what was done so far. */
export async function applyFixes(
  first: PlanDocument,
  signal: AbortSignal,
  onProgress: (step: string) => void,
): Promise<PlanDocument> {
  onProgress("Looking for fixes…");
  let document = first;
  try {
    for (let done = 0; done < MOST_CHANGES; done++) {
      const { failing, fix } = await improvePlan(document, signal);
      if (!fix) break;
      document = applyPatch(document, fix.patch);
      onProgress(
        `${done + 1} ${done === 0 ? "change" : "changes"} made, ${failing} still to look at…`,
      );
    }
  } catch (error) {
    if (!signal.aborted) throw error;
  }
  return document;
}
