import type { Fixture, PlanDocument } from "../api/types";
import { copiedFixture, fixturesOf, withFixture, withoutFixture } from "../plan/document";
import type { StageEdits } from "./SectionStage";

/** What keys do to a selected lamp: copy, lock, remove; true if one was meant for it. */
export function fixtureKey(
  event: React.KeyboardEvent,
  d: PlanDocument,
  f: Fixture,
  edits: StageEdits,
  onSelect: (id: string) => void,
): boolean {
  if (event.altKey) return false;
  const key = event.key.toLowerCase();
  if (event.ctrlKey || event.metaKey) {
    if (key !== "d") return false;
    const twin = copiedFixture(d, f);
    edits.commit({ ...d, fixtures: [...fixturesOf(d), twin] }, `${twin.label} added`);
    onSelect(twin.id);
    return true;
  }
  if (key === "l") {
    const locked = !f.locked;
    edits.commit(withFixture(d, f.id, { locked }), `${f.label} ${locked ? "locked" : "unlocked"}`);
    return true;
  }
  if (f.locked || (key !== "delete" && key !== "backspace")) return false;
  edits.commit(withoutFixture(d, f.id), `${f.label} removed`);
  return true;
}
