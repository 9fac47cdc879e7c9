import { describe, expect, it } from "vitest";
import type { EnclosureResults, PlanSummary, RoomResults } from "../../api/types";
import { isComplete, toChange } from "./results";

const plan = (id: string, revision: number) => ({ id, revision }) as PlanSummary;
const checks = { failing: 2, uncertain: 0, cause: "too warm", problem: null };
const forecast = { months: [], due: [], problem: null };
const known = (plan_id: string, revision: number, parts: Partial<EnclosureResults> = {}) => ({
  plan_id,
  revision,
  checks,
  forecast,
  ...parts,
});
const room = (...enclosures: EnclosureResults[]): RoomResults => ({
  enclosures,
  checks_missing: 0,
  forecasts_missing: 0,
});

describe("results of the room", () => {
  it("are complete once the checks and the year of each newest revision are known", () => {
    const plans = [plan("a", 1), plan("b", 3)];
    expect(isComplete(undefined, plans)).toBe(false);
    expect(isComplete(room(known("a", 1), known("b", 3)), plans)).toBe(true);
    expect(isComplete(room(known("a", 1), known("b", 2)), plans)).toBe(false);
    expect(isComplete(room(known("a", 1), known("b", 3, { forecast: null })), plans)).toBe(false);
    expect(isComplete(room(known("a", 1, { checks: null }), known("b", 3)), plans)).toBe(false);
  });

  it("count nothing where an enclosure cannot be computed", () => {
    expect(toChange(known("a", 1))).toBe(2);
    expect(toChange(undefined)).toBeUndefined();
    expect(toChange(known("a", 1, { checks: null }))).toBeUndefined();
    const broken = { ...checks, failing: 0, problem: "/fixtures: must be a list" };
    expect(toChange(known("a", 1, { checks: broken }))).toBeUndefined();
  });
});
