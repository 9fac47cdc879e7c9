/** Which plan, at which revision, stands on a side of a comparison. */
import { fetchPlan, fetchRevision } from "../../api/client";
import type { PlanDocument } from "../../api/types";

export interface Side {
  readonly planId: string;
  /** Null: the newest. */
  readonly revision: number | null;
}

export interface Opened {
  readonly planId: string;
  readonly revision: number;
  /** The name of the revision, if it has one. */
  readonly name: string;
  readonly document: PlanDocument;
}

/** "plan@7" or "plan". */
export function readSide(text: string | null): Side | null {
  if (!text) return null;
  const [planId = "", revision] = text.split("@");
  const number = revision === undefined ? null : Number(revision);
  if (!planId || (number !== null && !(Number.isInteger(number) && number > 0))) return null;
  return { planId, revision: number };
}

export const writeSide = (side: Side): string =>
  side.revision === null ? side.planId : `${side.planId}@${side.revision}`;

export async function openSide(side: Side): Promise<Opened> {
  const revision = side.revision ?? (await fetchPlan(side.planId)).revision;
  const found = await fetchRevision(side.planId, revision);
  return { planId: side.planId, revision, name: found.name, document: found.document };
}

/** Address of the drawing of a side, as the server makes it. */
export function pictureOf(
  side: { planId: string; revision: number },
  field: string,
  view: string,
  units: string,
): string {
  const query = new URLSearchParams({ revision: String(side.revision), field, view, units });
  return `/api/plans/${side.planId}/drawing.svg?${query}`;
}
