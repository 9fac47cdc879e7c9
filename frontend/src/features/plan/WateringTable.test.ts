import { describe, expect, it } from "vitest";
import { wateringWords } from "./WateringTable";

const USE = {
  id: "ground",
  label: "Ground",
  kind: "ground" as const,
  area_m2: 0.4,
  lost_l_day: 0.211,
  sprayed_l_day: 0,
  held_l: 3.1,
  every_days: 7.3,
  pour_l: 1.55,
};

describe("what is poured", () => {
  it.each([
    [{}, "about 1.6 L every 7 days (it loses 210 ml a day)"],
    [{ every_days: 1.2, pour_l: 0.25 }, "about 250 ml every day (it loses 210 ml a day)"],
    [
      { sprayed_l_day: 0.1 },
      "about 1.6 L every 7 days (it loses 210 ml a day, and gets 100 ml by spraying)",
    ],
    [{ every_days: 30 }, "look at it once a month; then about 1.6 L (it loses 210 ml a day)"],
    [
      { every_days: null, pour_l: null, sprayed_l_day: 0.3 },
      "spraying brings it enough (it loses 210 ml a day, and gets 300 ml)",
    ],
    [
      { kind: "pool" as const, every_days: 1, pour_l: 0.066, held_l: 8 },
      "top up 66 ml a day (it holds 8.0 L)",
    ],
  ])("is said in one line: %j", (part, words) => {
    expect(wateringWords({ ...USE, ...part }, "metric")).toBe(words);
  });
});
