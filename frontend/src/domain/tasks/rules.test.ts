import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { choicesOf, ruleOf, ruleText, type Unit, WEEKDAYS } from "./rules";

const UNITS: readonly Unit[] = ["once", "day", "week", "month", "year"];

describe("rules of tasks", () => {
  it.each([
    [{ unit: "once", count: 3, days: [] }, ""],
    [{ unit: "day", count: 1, days: [] }, "FREQ=DAILY"],
    [{ unit: "week", count: 2, days: ["TH", "MO"] }, "FREQ=WEEKLY;INTERVAL=2;BYDAY=MO,TH"],
    [{ unit: "month", count: 6, days: ["MO"] }, "FREQ=MONTHLY;INTERVAL=6"],
  ] as const)("%j is %j", (choices, rule) => {
    expect(ruleOf(choices)).toBe(rule);
  });

  it("read back what they were made of", () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...UNITS),
        fc.integer({ min: 1, max: 99 }),
        fc.subarray([...WEEKDAYS]),
        (unit, count, all) => {
          const days = unit === "week" ? all : [];
          const read = choicesOf(ruleOf({ unit, count, days }));
          expect(read).toEqual({ unit, count: unit === "once" ? 1 : count, days });
        },
      ),
    );
  });

  it.each([
    "FREQ=HOURLY",
    "FREQ=MONTHLY;BYMONTHDAY=1",
    "FREQ=WEEKLY;BYDAY=2MO",
    "FREQ=DAILY;BYDAY=MO",
    "COUNT=3",
  ])("are not changed where they say more than the fields can: %s", (rule) => {
    expect(choicesOf(rule)).toBeNull();
    expect(ruleText(rule, false)).toBe(`by the rule ${rule}`);
  });

  it("are described in words", () => {
    expect(ruleText("", false)).toBe("once");
    expect(ruleText("FREQ=DAILY", false)).toBe("every day");
    expect(ruleText("FREQ=MONTHLY;INTERVAL=3", true)).toBe(
      "every 3 months, counted from when it was done",
    );
    expect(ruleText("FREQ=WEEKLY;BYDAY=MO,WE,FR", false)).toMatch(
      /^every week on \S+, \S+ and \S+$/,
    );
  });
});
