import { describe, expect, it } from "vitest";
import { fails, figureBesideLimits, needFormat, type Quantity, rangeText } from "./needs";

const need = (quantity: Quantity, low: number | null, high: number | null) => ({
  quantity,
  low,
  high,
});

describe("ranges of needs", () => {
  it.each([
    [need("surface_temperature", 43, 52), "metric", "43–52 °C"],
    [need("surface_temperature", 43, 52), "imperial", "109–126 °F"],
    [need("air_temperature", 27.5, null), "metric", "at least 27.5 °C"],
    [need("uvi", null, 0.5), "metric", "at most 0.5"],
    [need("uvi", 2.9, 7.4), "imperial", "2.9–7.4"],
    [need("humidity", 0.6, 0.85), "metric", "60–85 %"],
    [need("uv_free_share", 0.25, null), "imperial", "at least 25 %"],
  ] as const)("%j in %s units: %s", (one, units, text) => {
    expect(rangeText(one, units)).toBe(text);
  });
});

describe("figures of needs", () => {
  it("are as precise as they are assessed", () => {
    expect(needFormat("air_temperature", "metric").figure(12)).toBe("12.0");
    expect(needFormat("uvi", "metric").figure(3)).toBe("3.0");
    expect(needFormat("humidity", "imperial").figure(0.456)).toBe("46");
  });
});

describe("a figure beside the limit it misses", () => {
  it.each([
    [11.96, need("air_temperature", 12, 22), "low", "metric", "11.96"],
    [11.94, need("air_temperature", 12, 22), "low", "metric", "11.9"],
    [22.04, need("air_temperature", 12, 22), "high", "metric", "22.04"],
    [12, need("air_temperature", 12, 22), "ok", "metric", "12.0"],
    [7.44, need("uvi", 3, 7.4), "high", "imperial", "7.44"],
    [0.597, need("humidity", 0.6, 0.8), "low", "metric", "59.7"],
    [0.55, need("humidity", 0.6, 0.8), "low", "metric", "55"],
  ] as const)("%d for %j, %s", (value, one, status, units, text) => {
    expect(figureBesideLimits(value, one, status, units)).toBe(text);
  });
});

it("only faults and dangers ask for a change", () => {
  expect(["none", "note", "care", "fault", "danger"].filter(fails)).toEqual(["fault", "danger"]);
});
