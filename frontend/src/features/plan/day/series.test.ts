import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { clock, duration, type Series, valueAt } from "./series";

/** Every half hour, the hour itself. */
const HOURS: Series = {
  values: Float32Array.from({ length: 48 }, (_, i) => (i + 1) / 2),
  step: 0.5,
};

describe("a simulated day", () => {
  it("is read between its samples linearly", () => {
    expect(valueAt(HOURS, 0.5)).toBeCloseTo(0.5, 6);
    expect(valueAt(HOURS, 13.25)).toBeCloseTo(13.25, 5);
    expect(valueAt(HOURS, 24)).toBeCloseTo(24, 6);
  });

  it("repeats", () => {
    fc.assert(
      fc.property(fc.double({ min: -48, max: 72, noNaN: true }), (hour) => {
        const value = valueAt(HOURS, hour);
        expect(value).toBeCloseTo(valueAt(HOURS, hour + 24), 3);
        expect(value).toBeGreaterThanOrEqual(0.5 - 1e-3);
        expect(value).toBeLessThanOrEqual(24 + 1e-3);
      }),
    );
  });
});

describe("times", () => {
  it.each([
    [13.5, "13:30"],
    [0, "00:00"],
    [24, "00:00"],
    [-1, "23:00"],
    [6.999, "07:00"],
  ])("%d h is %s on a clock", (hour, text) => {
    expect(clock(hour)).toBe(text);
  });

  it.each([
    [0, "0 min"],
    [59.4, "59 min"],
    [60, "1 h"],
    [95, "1 h 35 min"],
    [1440, "24 h"],
  ])("%d minutes are %s", (minutes, text) => {
    expect(duration(minutes)).toBe(text);
  });
});
