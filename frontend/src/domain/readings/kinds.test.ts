import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Expected } from "../../api/types";
import { expectedText, freshId, KINDS, momentNow, needsPlace, sideOf, valueText } from "./kinds";

const expected = { value: 36, low: 33.1, high: 40.2 } as Expected;

describe("readings in words", () => {
  it.each([
    [31.04, "surface", "metric", "31.0 °C"],
    [31, "air", "imperial", "87.8 °F"],
    [3.25, "uvi_facing", "metric", "3.3"],
    [0.456, "humidity", "metric", "46 %"],
  ] as const)("%d of %s in %s units", (value, kind, units, text) => {
    expect(valueText(value, kind, units)).toBe(text);
  });

  it("are beside what was predicted", () => {
    expect(expectedText(expected, "surface", "metric")).toBe("33.1–40.2 °C");
    expect(sideOf(33, expected)).toBe("low");
    expect(sideOf(33.1, expected)).toBe("ok");
    expect(sideOf(40.3, expected)).toBe("high");
  });

  it("have a place but for those of the room and of a logger's night", () => {
    expect(KINDS.filter((k) => !needsPlace(k))).toEqual([
      "air_min",
      "humidity_night",
      "room_air",
      "room_humidity",
    ]);
  });
});

describe("moments and ids", () => {
  it("say the moment with the offset of the place", () => {
    fc.assert(
      fc.property(fc.date({ min: new Date(0), max: new Date(4e12), noInvalidDate: true }), (at) => {
        const text = momentNow(at);
        expect(text).toMatch(/^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d[+-]\d\d:\d\d$/);
        expect(Math.floor(at.getTime() / 1000)).toBe(new Date(text).getTime() / 1000);
      }),
    );
  });

  it("differ from each other and are plain", () => {
    const ids = Array.from({ length: 500 }, freshId);
    expect(new Set(ids).size).toBe(500);
    for (const id of ids) expect(id).toMatch(/^r[0-9a-z]{18}$/);
  });
});
