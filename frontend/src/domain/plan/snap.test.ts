import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { furnishingsOf } from "./document";
import { PLAN } from "./plan.fixture";
import { snapped, snappedAcross, snappedAlong } from "./snap";

const slab = furnishingsOf(PLAN)[0];
if (slab?.type !== "slab") throw new Error("the plan has a slab");

describe("snapped", () => {
  it("rests against a wall within reach", () => {
    expect(snapped(PLAN, { ...slab, x_m: 0.157 }).x).toBeCloseTo(0.15, 9);
    expect(snapped(PLAN, { ...slab, x_m: 1.043 }).x).toBeCloseTo(1.05, 9);
  });

  it("stays under a lamp", () => {
    expect(snapped(PLAN, { ...slab, x_m: 0.289 }).x).toBeCloseTo(0.28, 9);
  });

  it("rests on a grid of half centimetres elsewhere", () => {
    fc.assert(
      fc.property(fc.double({ min: 0.35, max: 0.95, noNaN: true }), (x) => {
        const at = snapped(PLAN, { ...slab, x_m: x }).x;
        expect(Math.abs(at - x)).toBeLessThan(0.0121);
        expect(Math.abs(at * 200 - Math.round(at * 200))).toBeLessThan(1e-6);
      }),
    );
  });
});

describe("a lamp that is moved", () => {
  it("rests over the slab and in the middle", () => {
    expect(snappedAlong(PLAN, 0.275)).toBe(0.28);
    expect(snappedAlong(PLAN, 0.593)).toBe(0.6);
    expect(snappedAcross(PLAN, 0.307)).toBe(0.3);
  });
});
