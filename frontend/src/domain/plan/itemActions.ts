/** What can be done with a whole lamp or furnishing: by a key in the drawing, by a button beside it. */
import type { Fixture, Furnishing, PlanDocument } from "../../api/types";
import { copiedFixture, fixturesOf, furnishingsOf, withFixture, withoutFixture } from "./document";
import { copied, furnishingKey, turned, withFurnishing, withoutFurnishing } from "./furnishings";

/** An edit with its name in the history, and what is selected after it. */
export interface Step {
  readonly document: PlanDocument;
  readonly summary: string;
  readonly select?: string;
  /** Several that are selected after it. */
  readonly together?: readonly string[];
}

/** How steps are taken: as an edit, and with what they made selected. */
export const makeStepRunner =
  (
    commit: (document: PlanDocument, summary: string) => void,
    onSelect: (key: string) => void,
    onTogether?: (keys: readonly string[]) => void,
  ) =>
  (step: Step) => {
    commit(step.document, step.summary);
    if (step.select) onSelect(step.select);
    if (step.together) onTogether?.(step.together);
  };

export interface ItemActions {
  readonly locked: boolean;
  readonly copy: () => Step;
  readonly lock?: () => Step;
  readonly remove: () => Step;
  readonly turn?: () => Step;
  readonly guard?: () => Step;
}

export function furnishingActions(d: PlanDocument, item: Furnishing): ItemActions {
  const locked = item.locked ?? false;
  return {
    locked,
    copy: () => {
      const twin = copied(d, item);
      const document = { ...d, furnishings: [...furnishingsOf(d), twin] };
      return { document, summary: `${twin.label} added`, select: furnishingKey(twin.id) };
    },
    lock: () => ({
      document: withFurnishing(d, { ...item, locked: !locked }),
      summary: lockedWords(item.label, !locked),
    }),
    remove: () => ({
      document: withoutFurnishing(d, item.id),
      summary: `${item.label} removed`,
    }),
    turn: () => ({
      document: withFurnishing(d, turned(d, item)),
      summary: `${item.label} turned`,
    }),
  };
}

export function fixtureActions(d: PlanDocument, f: Fixture): ItemActions {
  const locked = f.locked ?? false;
  return {
    locked,
    copy: () => {
      const twin = copiedFixture(d, f);
      const document = { ...d, fixtures: [...fixturesOf(d), twin] };
      return { document, summary: `${twin.label} added`, select: twin.id };
    },
    lock: () => ({
      document: withFixture(d, f.id, { locked: !locked }),
      summary: lockedWords(f.label, !locked),
    }),
    remove: () => ({ document: withoutFixture(d, f.id), summary: `${f.label} removed` }),
    turn: () => ({
      document: withFixture(d, f.id, {
        turn_deg: f.turn_deg >= 90 ? f.turn_deg - 270 : f.turn_deg + 90,
      }),
      summary: `${f.label} turned`,
    }),
    guard: () => ({
      document: withFixture(d, f.id, { guard: !f.guard }),
      summary: `${f.label} ${f.guard ? "without" : "behind"} a guard`,
    }),
  };
}

const lockedWords = (label: string, locked: boolean) =>
  `${label} ${locked ? "locked" : "unlocked"}`;

interface Pressed {
  readonly key: string;
  readonly altKey: boolean;
  readonly ctrlKey: boolean;
  readonly metaKey: boolean;
}

/** What a key means for a selected thing; null if nothing. What is locked is neither turned nor removed. */
export function stepFor(pressed: Pressed, actions: ItemActions): Step | null {
  if (pressed.altKey) return null;
  const key = pressed.key.toLowerCase();
  if (pressed.ctrlKey || pressed.metaKey) return key === "d" ? actions.copy() : null;
  if (key === "l") return actions.lock?.() ?? null;
  if (actions.locked) return null;
  if (key === "delete" || key === "backspace") return actions.remove();
  if (key === "g") return actions.guard?.() ?? null;
  return key === "r" ? (actions.turn?.() ?? null) : null;
}
