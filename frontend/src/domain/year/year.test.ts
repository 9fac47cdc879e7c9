import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { MonthChecked, PlanDocument, Year } from "../../api/types";
import { PLAN } from "../plan/plan.fixture";
import {
  firstDay,
  grouped,
  monthOf,
  spanText,
  WEEKS,
  weekOf,
  withOffer,
  withoutWeek,
  withWeeks,
} from "./year";

const YEAR = { days_follow: 1, weeks: [], swaps: [] } as unknown as Year;

describe("weeks", () => {
  it("begin on the first of January and hold every day of a year", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 2000, max: 2100 }),
        fc.integer({ min: 0, max: 364 }),
        (year, number) => {
          const day = new Date(year, 0, 1 + number, 12);
          const week = weekOf(day);
          expect(week).toBeGreaterThanOrEqual(1);
          expect(week).toBeLessThanOrEqual(WEEKS);
          expect(firstDay(week, year).getTime()).toBeLessThanOrEqual(day.getTime());
          const next = firstDay(week + 1, year).getTime();
          if (week < WEEKS) expect(next).toBeGreaterThan(day.getTime());
        },
      ),
    );
  });

  it("are of the month of their middle", () => {
    expect(monthOf(1)).toBe(1);
    expect(monthOf(26)).toBe(6);
    expect(monthOf(WEEKS)).toBe(12);
  });
});

describe("changes of weeks", () => {
  it("keep what was set before, and the order of weeks", () => {
    const one = withWeeks(YEAR, [30, 4], { photoperiod_h: 10 });
    const two = withWeeks(one, [4], { misting: 0.5 });
    expect(two.weeks?.map((w) => w.week)).toEqual([4, 30]);
    expect(two.weeks?.[0]).toMatchObject({ photoperiod_h: 10, misting: 0.5, day_shift_k: null });
    expect(withoutWeek(two, 4).weeks?.map((w) => w.week)).toEqual([30]);
    expect(YEAR.weeks).toEqual([]);
  });
});

describe("a fix offered for months", () => {
  const d = {
    ...PLAN,
    thermostats: [{ id: "main", day_set_point_c: 28, night_set_point_c: 18 }],
  } as unknown as PlanDocument;

  it("of a bulb is a swap from the first to the last of them", () => {
    const year = withOffer(d, YEAR, [6, 7, 8], {
      kind: "power",
      part_id: "basking-lamp",
      label: "Basking lamp",
      value: 50,
      period: "day",
    });
    expect(year.swaps).toEqual([
      { fixture_id: "basking-lamp", from_month: 6, to_month: 8, power_w: 50 },
    ]);
  });

  it.each([
    ["day", 26, "day_shift_k", -2],
    ["night", 20.5, "night_shift_k", 2.5],
  ] as const)(
    "of a set point by %s shifts it in every week of them",
    (period, value, key, shift) => {
      const year = withOffer(d, YEAR, [2], {
        kind: "set_point",
        part_id: "main",
        label: "Main",
        value,
        period,
      });
      const weeks = year.weeks ?? [];
      expect(weeks.map((w) => w[key])).toEqual(weeks.map(() => shift));
      expect(weeks.map((w) => monthOf(w.week))).toEqual(weeks.map(() => 2));
      expect(weeks.length).toBeGreaterThanOrEqual(4);
    },
  );
});

describe("months that fail alike", () => {
  const month = (number: number, failing: string[] | null): MonthChecked =>
    ({
      month: number,
      failing: failing?.map((id) => ({ id, description: [] })) ?? null,
      fix: null,
    }) as unknown as MonthChecked;
  const months = (checked: MonthChecked[]) => grouped(checked).map((g) => g.months);

  it("are shown together while they follow each other", () => {
    expect(months([month(5, ["a"]), month(6, ["a"]), month(7, ["b"]), month(9, ["b"])])).toEqual([
      [5, 6],
      [7],
      [9],
    ]);
  });

  it("leave those that pass out and go round the year", () => {
    expect(months([month(1, ["a"]), month(2, []), month(11, ["a"]), month(12, ["a"])])).toEqual([
      [11, 12, 1],
    ]);
  });

  it("include months that could not be computed", () => {
    expect(months([month(3, null)])).toEqual([[3]]);
  });

  it("are named by the first and the last", () => {
    expect(spanText([6, 7, 8])).toMatch(/^\p{L}+ to \p{L}+$/u);
    expect(spanText([4])).not.toContain(" to ");
  });
});
