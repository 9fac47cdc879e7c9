import { Euler, Vector3 } from "three";
import { describe, expect, it } from "vitest";
import { fixturesOf, isOnAt } from "../../domain/plan/document";
import { PLAN } from "../../domain/plan/plan.fixture";
import { inScene, turnedInScene } from "./coordinates";

const SIZE = { length_m: 1.2, depth_m: 0.6, height_m: 0.6 };

/** Where a lamp that aims straight down aims when it is turned, in the scene: x right, y up, z to the front. */
const aim = (turn_deg: number, lean_deg: number, tilt_deg: number) =>
  new Vector3(0, -1, 0)
    .applyEuler(new Euler(...turnedInScene({ turn_deg, lean_deg, tilt_deg })))
    .toArray()
    .map((part) => Math.round(1e6 * part) / 1e6 + 0);

describe("the scene", () => {
  it("has its middle over the middle of the floor, the front towards the viewer", () => {
    expect(inScene(SIZE, 1.2, 0, 0.3)).toEqual([0.6, 0.3, 0.3]);
  });

  it("swings beams as the core does: lean to the right, tilt to the back, turn anticlockwise from above", () => {
    expect(aim(0, 90, 0)).toEqual([1, 0, 0]);
    expect(aim(0, 0, 90)).toEqual([0, 0, -1]);
    // To the right, then a quarter anticlockwise: to the back.
    expect(aim(90, 90, 0)).toEqual([0, 0, -1]);
    // The tilt is about the lamp's axis: it ends at the back whatever its lean.
    expect(aim(0, 40, 90)).toEqual([0, 0, -1]);
  });

  it("has lamps on at their hours, past midnight too", () => {
    const [lamp] = fixturesOf(PLAN);
    if (!lamp) throw new Error("the fixture has a lamp");
    const by = (timer: { on_h: number; off_h: number }[], hour: number) =>
      isOnAt({ ...lamp, lit: "day", timer }, hour, 12);
    expect([by([], 5.9), by([], 6), by([], 18)]).toEqual([false, true, false]);
    expect([by([{ on_h: 20, off_h: 4 }], 12), by([{ on_h: 20, off_h: 4 }], 2)]).toEqual([
      false,
      true,
    ]);
    expect(isOnAt({ ...lamp, lit: "night", timer: [] }, 3, 12)).toBe(true);
  });
});
