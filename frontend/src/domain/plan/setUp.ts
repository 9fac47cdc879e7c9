import type { PlanDocument, SetUp } from "../../api/types";
import { fails } from "../units/needs";
import { fixturesOf } from "./document";

/**
 * A plan with the equipment of a set-up that was designed for it. Locks stay, and so does what the keeper
 * has set for the year, but for what the design has set by months.
 */
export function withSetUp(document: PlanDocument, made: PlanDocument): PlanDocument {
  const locked = new Set(
    fixturesOf(document)
      .filter((f) => f.locked)
      .map((f) => f.id),
  );
  const fixtures = fixturesOf(made).map((f) => ({ ...f, locked: locked.has(f.id) }));
  const there = new Set(fixtures.map((f) => f.id));
  const { thermostats, mistings, substrate } = made;
  const own = document.year;
  const year =
    own && made.year
      ? {
          ...own,
          day_swing_k: made.year.day_swing_k,
          night_swing_k: made.year.night_swing_k,
          settings: made.year.settings,
          care: made.year.care,
          swaps: (own.swaps ?? []).filter((s) => there.has(s.fixture_id)),
        }
      : made.year;
  return { ...document, fixtures, thermostats, mistings, substrate, year };
}

/** Whether nothing of a set-up is out of range, but something is in it with too little chance. */
export const isUnsure = (setUp: SetUp): boolean =>
  !setUp.fits &&
  setUp.checks.every((c) => !c.required || c.status === "ok" || c.status === "uncertain") &&
  !setUp.findings.some((f) => fails(f.severity));
