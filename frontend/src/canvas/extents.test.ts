import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Evaluation, PlanDocument } from "../api/types";
import { PLAN } from "../domain/plan/plan.fixture";
import { extentOfThing } from "./extents";
import { type RampName, rampCss, rampGradient, rampRgb } from "./ramps";

const EVALUATION = {
  places: [
    { id: "warm-end", kind: "warm_end", x_m: 0.2, y_m: 0.3, z_m: 0.1 },
    { id: "cool-end", kind: "cool_end", x_m: 1.1, y_m: 0.3, z_m: 0.1 },
  ],
} as unknown as Evaluation;

describe("the space of a thing in the drawing", () => {
  it("of a slab is its own, of a lamp a hand's breadth", () => {
    expect(extentOfThing("basking-slab", PLAN, null)?.x0).toBeCloseTo(0.13, 9);
    const lamp = extentOfThing("basking-lamp", PLAN, null);
    expect((lamp?.x1 ?? 0) - (lamp?.x0 ?? 0)).toBeCloseTo(0.08, 9);
  });

  it("of an end is its quarter of the enclosure, above the substrate", () => {
    expect(extentOfThing("warm-end", PLAN, EVALUATION)).toMatchObject({ x0: 0, x1: 0.3, z0: 0.08 });
    expect(extentOfThing("cool-end", PLAN, EVALUATION)).toMatchObject({
      x0: expect.closeTo(0.9, 9),
      x1: 1.2,
    });
  });

  it("is none for what is not there", () => {
    expect(extentOfThing("nobody", PLAN, EVALUATION)).toBeNull();
    expect(extentOfThing("warm-end", PLAN as PlanDocument, null)).toBeNull();
  });
});

describe("colour ramps", () => {
  const luminance = ([r, g, b]: readonly [number, number, number]) =>
    0.2126 * r ** 2.2 + 0.7152 * g ** 2.2 + 0.0722 * b ** 2.2;
  const names: readonly RampName[] = ["uv", "heat", "damp"];

  it.each(names)("%s grows lighter all the way, so that order shows in grey", (name) => {
    const shades = Array.from({ length: 33 }, (_, i) => luminance(rampRgb(name, i / 32)));
    for (let i = 1; i < shades.length; i++) {
      expect(shades[i]).toBeGreaterThan(shades[i - 1] as number);
    }
  });

  it("end where the scale ends", () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...names),
        fc.double({ min: -5, max: 5, noNaN: true }),
        (name, share) => {
          const inside = Math.min(1, Math.max(0, share));
          expect(rampRgb(name, share)).toEqual(rampRgb(name, inside));
        },
      ),
    );
  });

  it("are written as CSS", () => {
    expect(rampCss("uv", 0)).toMatch(/^rgb\(\d+ \d+ \d+\)$/);
    expect(rampGradient("heat").match(/rgb/g)).toHaveLength(13);
  });
});
