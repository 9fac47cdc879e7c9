import { describe, expect, it } from "vitest";
import type { PlanDocument, SetUp } from "../../api/types";
import { isUnsure, withSetUp } from "./setUp";

const year = (part: object) => ({ days_follow: 1, swaps: [], weeks: [], settings: [], ...part });
const plan = (part: object) => ({ name: "", thermostats: [], ...part }) as unknown as PlanDocument;

describe("a set-up taken into a plan", () => {
  const document = plan({
    name: "Mine",
    room: { day_temperature_c: 21 },
    fixtures: [
      { id: "tube", locked: true },
      { id: "bulb", locked: false },
    ],
    year: year({
      brumation: { begins_week: 50 },
      swaps: [{ fixture_id: "bulb" }, { fixture_id: "tube" }],
    }),
  });
  const made = plan({
    name: "Designed",
    room: { day_temperature_c: 30 },
    fixtures: [{ id: "tube" }, { id: "panel" }],
    year: year({
      day_swing_k: 0,
      settings: [{ thermostat_id: "basking" }],
      care: [{ from_month: 6, to_month: 8, vents: 2 }],
    }),
  });
  const taken = withSetUp(document, made);

  it("keeps locks, name and room", () => {
    expect(taken.fixtures?.map((f) => [f.id, f.locked])).toEqual([
      ["tube", true],
      ["panel", false],
    ]);
    expect([taken.name, taken.room.day_temperature_c]).toEqual(["Mine", 21]);
  });

  it("keeps the rest of the year, without bulbs of lamps that are gone", () => {
    expect(taken.year?.brumation?.begins_week).toBe(50);
    expect(taken.year?.swaps?.map((s) => s.fixture_id)).toEqual(["tube"]);
    expect(taken.year?.settings).toEqual([{ thermostat_id: "basking" }]);
    expect(taken.year?.care?.map((c) => c.vents)).toEqual([2]);
  });

  it("takes the designed year where the plan has none", () => {
    expect(withSetUp(plan({ fixtures: [] }), made).year).toEqual(made.year);
  });
});

describe("a set-up", () => {
  const check = (status: string, required = true) => ({ status, required });
  const made = (checks: object[], severities: string[] = [], fits = false) =>
    ({ fits, checks, findings: severities.map((severity) => ({ severity })) }) as unknown as SetUp;

  it("is unsure where something is in range with too little chance and nothing is out of it", () => {
    expect(isUnsure(made([check("ok"), check("uncertain")]))).toBe(true);
    expect(isUnsure(made([check("ok"), check("low", false), check("uncertain")]))).toBe(true);
    expect(isUnsure(made([check("uncertain"), check("low")]))).toBe(false);
    expect(isUnsure(made([check("uncertain")], ["note", "fault"]))).toBe(false);
    expect(isUnsure(made([check("ok")], [], true))).toBe(false);
  });
});
