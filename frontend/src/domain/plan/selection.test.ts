import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Catalog, PlanDocument } from "../../api/types";
import { fixturesOf, furnishingsOf } from "./document";
import { furnishingKey, newFurnishing, withFurnishing } from "./furnishings";
import { PLAN } from "./plan.fixture";
import {
  type Axis,
  aligned,
  distributed,
  extentOfKey,
  keysTouching,
  present,
  selectableKeys,
  selectionActions,
  shifted,
} from "./selection";

const CATALOG = {
  lamps: [
    { id: "halogen-flood", shape: "point" },
    { id: "tube", shape: "line", length_m: 0.4 },
  ],
  materials: [],
} as unknown as Catalog;

const adding = (d: PlanDocument, kind: "hide" | "water" | "branch" | "slab"): PlanDocument => ({
  ...d,
  furnishings: [...furnishingsOf(d), newFurnishing(d, kind)],
});
const FULL = (["hide", "water", "branch", "slab"] as const).reduce(adding, PLAN);
const KEYS = selectableKeys(FULL);
const axes = fc.constantFrom<Axis>("x", "y", "z");

const middles = (d: PlanDocument, axis: Axis) =>
  KEYS.map((key) => {
    const e = extentOfKey(d, CATALOG, key);
    if (!e) throw new Error(key);
    return (e[`${axis}0`] + e[`${axis}1`]) / 2;
  });

const locked = (d: PlanDocument, id: string): PlanDocument => {
  const item = furnishingsOf(d).find((f) => f.id === id);
  return item ? withFurnishing(d, { ...item, locked: true }) : d;
};

describe("several items", () => {
  it("move by the same distance along each axis, wherever they are moved to", () => {
    fc.assert(
      fc.property(axes, fc.double({ min: -2, max: 2, noNaN: true }), (axis, by) => {
        const offset = { x: 0, y: 0, z: 0, [axis]: by };
        const after = shifted(FULL, CATALOG, KEYS, offset);
        const [old, now] = [middles(FULL, axis), middles(after, axis)];
        const moves = now.map((at, i) => at - (old[i] ?? 0));
        // A hide and a dish stand on the ground.
        const free =
          axis === "z" ? moves.filter((_, i) => !/hide|water/.test(KEYS[i] ?? "")) : moves;
        for (const move of free) expect(move).toBeCloseTo(free[0] ?? 0, 3);
        expect(Math.abs(free[0] ?? 0)).toBeLessThanOrEqual(Math.abs(by) + 1e-4);
      }),
    );
  });

  it("leave what is locked where it is", () => {
    const d = locked(FULL, "hide-1");
    const after = shifted(d, CATALOG, KEYS, { x: 0.05, y: 0, z: 0 });
    const at = KEYS.indexOf(furnishingKey("hide-1"));
    expect(middles(after, "x")[at]).toBe(middles(d, "x")[at]);
    expect(middles(after, "x")[0]).toBeCloseTo((middles(d, "x")[0] ?? 0) + 0.05);
  });

  it("are lined up with one of them, which stays", () => {
    const model = furnishingKey("basking-slab");
    const after = aligned(FULL, CATALOG, KEYS, model, "x", "low");
    const edge = extentOfKey(FULL, CATALOG, model)?.x0;
    for (const key of KEYS.filter((k) => !k.includes("branch"))) {
      expect(extentOfKey(after, CATALOG, key)?.x0).toBeCloseTo(edge ?? 0, 3);
    }
    expect(extentOfKey(after, CATALOG, model)).toEqual(extentOfKey(FULL, CATALOG, model));
  });

  it("are spread evenly between the outermost two", () => {
    const keys = ["hide-1", "water-1", "slab-1"].map(furnishingKey);
    const apart = ["hide-1", "slab-1"].reduce(
      (d, id, i) =>
        shifted(d, CATALOG, [furnishingKey(id)], { x: i === 0 ? -0.4 : 0.35, y: 0, z: 0 }),
      FULL,
    );
    const after = distributed(apart, CATALOG, keys, "x");
    const at = (d: PlanDocument, key: string) => {
      const e = extentOfKey(d, CATALOG, key);
      return e ? (e.x0 + e.x1) / 2 : Number.NaN;
    };
    const [a, b, c] = keys.map((key) => at(after, key)) as [number, number, number];
    expect(b - a).toBeCloseTo(c - b, 3);
    expect([a, c]).toEqual([at(apart, keys[0] ?? ""), at(apart, keys[2] ?? "")]);
  });

  it("are spread only where there are three or more", () => {
    expect(distributed(FULL, CATALOG, KEYS.slice(0, 2), "x")).toBe(FULL);
  });

  it("are removed but for what is locked, and are then no longer selected", () => {
    const d = locked(FULL, "hide-1");
    const { document } = selectionActions(d, KEYS).remove();
    expect(selectableKeys(document)).toEqual([furnishingKey("hide-1")]);
    expect(present(document, KEYS)).toEqual([furnishingKey("hide-1")]);
  });

  it("are duplicated with the copies selected", () => {
    const step = selectionActions(FULL, KEYS).copy();
    expect(fixturesOf(step.document)).toHaveLength(2 * fixturesOf(FULL).length);
    expect(furnishingsOf(step.document)).toHaveLength(2 * furnishingsOf(FULL).length);
    expect(step.together).toHaveLength(KEYS.length);
    expect(new Set([...KEYS, ...(step.together ?? [])]).size).toBe(2 * KEYS.length);
  });

  it("are locked together, and unlocked once all are", () => {
    const all = selectionActions(locked(FULL, "hide-1"), KEYS).lock?.().document ?? FULL;
    expect([...fixturesOf(all), ...furnishingsOf(all)].every((one) => one.locked)).toBe(true);
    const none = selectionActions(all, KEYS).lock?.().document ?? all;
    expect([...fixturesOf(none), ...furnishingsOf(none)].some((one) => one.locked)).toBe(false);
  });
});

describe("a rectangle in a drawing", () => {
  const slab = furnishingKey("basking-slab");
  const touched = (x: readonly [number, number], up: readonly [number, number]) =>
    keysTouching(FULL, CATALOG, "z", { x, up });

  it("selects what it touches, whichever corner it is drawn from", () => {
    expect(touched([0.14, 0.16], [0.17, 0.21])).toEqual([slab]);
    expect(touched([0.16, 0.14], [0.21, 0.17])).toEqual([slab]);
    expect(touched([0, 1.2], [0, 0.6])).toEqual(KEYS);
  });

  it("selects nothing where nothing is", () => {
    expect(touched([1.15, 1.19], [0.5, 0.58])).toEqual([]);
  });
});

describe("the space a lamp takes up", () => {
  it("is as long as its tube, whichever way it lies", () => {
    const tube = (turn_deg: number): PlanDocument => ({
      ...PLAN,
      fixtures: fixturesOf(PLAN).map((f) => ({ ...f, lamp_id: "tube", turn_deg })),
    });
    const along = extentOfKey(tube(0), CATALOG, "basking-lamp");
    const across = extentOfKey(tube(90), CATALOG, "basking-lamp");
    expect((along?.x1 ?? 0) - (along?.x0 ?? 0)).toBeCloseTo(0.4);
    expect((across?.x1 ?? 0) - (across?.x0 ?? 0)).toBeCloseTo(0);
    expect((across?.y1 ?? 0) - (across?.y0 ?? 0)).toBeCloseTo(0.4);
  });
});
