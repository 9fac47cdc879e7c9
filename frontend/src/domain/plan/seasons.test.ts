import { describe, expect, it } from "vitest";
import { seasonName, seasonsOf } from "./seasons";

const dial = (from_month: number, to_month: number, day_c: number | null) => ({
  thermostat_id: "basking",
  label: "Basking thermostat",
  from_month,
  to_month,
  day_c,
  night_c: null,
  litres: null,
  ground: null,
  vents_cm2: null,
});
const care = (from_month: number, to_month: number) => ({
  ...dial(from_month, to_month, null),
  thermostat_id: null,
  label: "Care",
  litres: 0.22,
  ground: "moist",
  vents_cm2: 346,
});

describe("what is set by season", () => {
  it("puts all that is set in the same months together", () => {
    expect(seasonsOf([dial(6, 9, 32), care(6, 9)], "metric")).toEqual([
      {
        months: [6, 7, 8, 9],
        said: [
          "Basking thermostat: 32.0 °C by day, off by night",
          "Spray 220 ml each time",
          "Keep the ground moist",
          "Open the vents 346 cm² in all",
        ],
      },
    ]);
  });

  it("says much water in litres", () => {
    const [much] = seasonsOf([{ ...care(6, 9), litres: 2.175 }], "metric");
    expect(much?.said[0]).toBe("Spray 2.2 L each time");
  });

  it("splits where something else changes, and joins the winter", () => {
    const found = seasonsOf([dial(11, 2, 35), dial(7, 8, 31), care(8, 8)], "metric");
    expect(found.map((one) => one.months)).toEqual([[7], [8], [11, 12, 1, 2]]);
    expect(found.map((one) => seasonName(one.months))).toEqual([
      "July",
      "August",
      "November to February",
    ]);
  });

  it("has no season where nothing changes, and one where all months are alike", () => {
    expect(seasonsOf([], "metric")).toEqual([]);
    const [all] = seasonsOf([dial(1, 12, 30)], "imperial");
    expect(seasonName(all?.months ?? [])).toBe("All year");
    expect(all?.said).toEqual(["Basking thermostat: 86.0 °F by day, off by night"]);
  });
});
