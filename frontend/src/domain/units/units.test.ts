import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { type Dimension, fixed, readTyped, show, showFigure, unitFormat } from "./units";

const SYSTEMS = ["metric", "imperial"] as const;
const DIMENSIONS: readonly Dimension[] = ["length", "temperature", "difference", "mass", "share"];

describe("readTyped", () => {
  it.each([
    ["12 in", "length", "metric", 0.3048],
    ["95F", "temperature", "metric", 35],
    ["31,5", "temperature", "metric", 31.5],
    ["20", "length", "imperial", 0.508],
    ["2 ft", "length", "metric", 0.6096],
    ["50 %", "share", "metric", 0.5],
    ["1 lb", "mass", "metric", 453.59237],
    ["30 min", "duration", "metric", 0.5],
  ] as const)("reads %j as a %s", (text, dimension, system, value) => {
    expect(readTyped(text, dimension, system)).toBeCloseTo(value, 9);
  });

  it.each(["", "warm", "12 furlongs", "1e3", "--4"])("refuses %j", (text) => {
    expect(readTyped(text, "length", "metric")).toBeNull();
  });

  it("reads back what is shown, in either system", () => {
    fc.assert(
      fc.property(
        fc.double({ min: -40, max: 120, noNaN: true }),
        fc.constantFrom(...SYSTEMS),
        fc.constantFrom(...DIMENSIONS),
        (value, system, dimension) => {
          const { digits, toCore } = unitFormat(system, dimension);
          const step = Math.abs(toCore(10 ** -digits) - toCore(0));
          const read = readTyped(show(value, dimension, system), dimension, system);
          expect(Math.abs((read ?? Number.NaN) - value)).toBeLessThanOrEqual(step);
        },
      ),
    );
  });
});

describe("what is shown", () => {
  it("has no negative zero", () => {
    expect(fixed(-0.04, 1)).toBe("0.0");
    expect(show(-0.0001, "length", "metric")).toBe("0.0 cm");
  });

  it("turns a difference by its factor only", () => {
    expect(showFigure(5, "K", "imperial")).toBe("9.0 °F");
    expect(showFigure(5, "°C", "imperial")).toBe("41.0 °F");
    expect(showFigure(1.9, "K", "metric")).toBe("1.9 °C");
  });
});
