/** Suggested fixes as edits: JSON Patch (RFC 6902) on a plan document. */
import { applyPatch as applyOperations, type Operation, Pointer } from "rfc6902";
import type { PatchStep, PlanDocument } from "../../api/types";

/** A patch does not fit the document it was meant for. */
export class PatchError extends Error {}

/** The lists of a plan that its document may leave out. */
const LISTS = [
  "furnishings",
  "fixtures",
  "thermostats",
  "mistings",
  "fans",
  "cold_packs",
  "pins",
  "lamps",
] as const;

/** The document with the steps applied; the one that is given stays as it is. */
export function applyPatch(document: PlanDocument, steps: readonly PatchStep[]): PlanDocument {
  const copy = structuredClone(document);
  for (const list of LISTS) {
    if (steps.some((s) => s.path.startsWith(`/${list}/`))) {
      Object.assign(copy, { [list]: copy[list] ?? [] });
    }
  }
  for (const step of steps) {
    const failed = applyOperations(copy, [operation(copy, step)]).find((error) => error !== null);
    if (failed) throw new PatchError(`The change does not fit the plan: ${failed.message}`);
  }
  return copy;
}

/** A step as an operation; a member that the document leaves out is added, where it would be replaced. */
function operation(document: PlanDocument, step: PatchStep): Operation {
  if (step.op === "remove") return { op: "remove", path: step.path };
  const value = structuredClone(step.value);
  const { parent } = Pointer.fromJSON(step.path).evaluate(document);
  return { op: Array.isArray(parent) ? step.op : "add", path: step.path, value };
}
