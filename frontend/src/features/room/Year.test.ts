import { describe, expect, it } from "vitest";
import { monthsAhead } from "./Year";

const months = (...failing: (number | null)[]) =>
  failing.map((n, i) => ({ number: i + 1, failing: n }));

describe("the months ahead", () => {
  it("begin with this one; the next harder one may lie in the next year", () => {
    const found = monthsAhead(months(4, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 2), 12);
    expect(found).toEqual({ present: { number: 12, failing: 2 }, hard: { number: 1, failing: 4 } });
  });

  it("have no harder one where none fails more, and none is harder than unknown", () => {
    expect(monthsAhead(months(...Array(12).fill(2)), 6).hard).toBeUndefined();
    expect(monthsAhead(months(0, 0, null, ...Array(9).fill(0)), 1).hard?.number).toBe(3);
  });
});
