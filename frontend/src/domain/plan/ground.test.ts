import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Catalog, PlanDocument } from "../../api/types";
import { extentOf, furnishingsOf } from "./document";
import {
  bandsOf,
  burrowsOf,
  canAddBurrow,
  groundLimit,
  layersBelow,
  mixWords,
  shallowestGround,
  topLayerDepth,
  withBurrow,
  withGroundDepth,
  withLayerDepth,
  withMix,
  withNewBurrow,
  withNewLayer,
  withNewZone,
  withoutBurrow,
  withoutLayer,
  withoutZone,
  withZone,
  zonesOf,
} from "./ground";
import { PLAN } from "./plan.fixture";

const CATALOG = {
  materials: [
    { id: "sand-soil", label: "Sand and soil mix", uses: ["substrate"] },
    { id: "soil", label: "Topsoil, moist", uses: ["substrate"] },
    { id: "clay-balls", label: "Expanded clay", uses: ["substrate"] },
  ],
} as unknown as Catalog;

const branch = (low: number, locked = false) => ({
  type: "branch",
  id: `branch-${low}`,
  label: "Branch",
  locked,
  start_m: { x_m: 0.2, y_m: 0.3, z_m: low + 0.015 },
  end_m: { x_m: 0.6, y_m: 0.3, z_m: low + 0.2 },
  diameter_m: 0.03,
});
const withBranches = (...branches: unknown[]): PlanDocument =>
  ({ ...PLAN, furnishings: branches, fixtures: [], thermostats: [] }) as unknown as PlanDocument;
const lows = (d: PlanDocument) => furnishingsOf(d).map((f) => Number(extentOf(d, f).z0.toFixed(4)));

describe("ground of another depth", () => {
  it("takes along branches that stand on it and lifts those it reaches", () => {
    const d = withBranches(branch(0.08), branch(0.25), branch(0.15));
    expect(lows(withGroundDepth(d, 0.2))).toEqual([0.2, 0.25, 0.2]);
    expect(lows(withGroundDepth(d, 0.05))).toEqual([0.05, 0.25, 0.15]);
  });

  it("leaves locked branches where they are, and stops at them", () => {
    const d = withBranches(branch(0.18, true));
    expect(lows(withGroundDepth(d, 0.15))).toEqual([0.18]);
    expect(groundLimit(d)).toEqual({ depth: 0.18, meets: "“Branch”, which is locked" });
  });

  it("takes along a probe that lies on it, not one that hangs", () => {
    const at = (z_m: number) =>
      ({
        ...PLAN,
        thermostats: [{ id: "main", label: "Main", probe_m: { x_m: 0.9, y_m: 0.3, z_m } }],
      }) as unknown as PlanDocument;
    expect(withGroundDepth(at(0.09), 0.12).thermostats?.[0]?.probe_m.z_m).toBeCloseTo(0.13, 9);
    expect(withGroundDepth(at(0.3), 0.12).thermostats?.[0]?.probe_m.z_m).toBeCloseTo(0.3, 9);
    expect(groundLimit(at(0.3)).depth).toBeCloseTo(0.3, 9);
    expect(groundLimit(at(0.3)).meets).toContain("the probe of");
  });

  it("may rise until something on it meets the lid, or a lamp", () => {
    // The slab rises with it: 0.6 − (0.2 − 0.08); the lamp does not: 0.52 − 0.01.
    expect(groundLimit(PLAN).depth).toBeCloseTo(0.48, 9);
    expect(groundLimit(PLAN).meets).toContain("the lid with");
    expect(groundLimit({ ...PLAN, furnishings: [] }).depth).toBeCloseTo(0.51, 9);
    // A branch of 20 cm that stands on it: 0.6 − 0.2 − 0.015.
    expect(groundLimit(withBranches(branch(0.08))).depth).toBeCloseTo(0.6 - 0.215, 9);
  });

  it("is never asked for less than there is, and as deep as it may be all stays inside", () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 0.2, noNaN: true }),
        fc.array(fc.double({ min: 0, max: 0.18, noNaN: true }), { maxLength: 3 }),
        (depth_m, over) => {
          const base = withBranches(...over.map((o) => branch(depth_m + o)));
          const d = { ...base, substrate: { ...base.substrate, depth_m } };
          const limit = groundLimit(d).depth;
          expect(limit).toBeGreaterThanOrEqual(depth_m);
          const deep = withGroundDepth(d, limit);
          for (const item of furnishingsOf(deep)) {
            if (limit > depth_m) expect(extentOf(deep, item).z1).toBeLessThan(0.6 + 1e-3);
          }
        },
      ),
    );
  });
});

describe("layers", () => {
  const two = withNewLayer(PLAN, CATALOG);

  it("are added at the bottom as drainage under a sheet, then as soil upon it", () => {
    expect(two.substrate.depth_m).toBeCloseTo(0.12, 9);
    expect(layersBelow(two)).toMatchObject([{ material_id: "clay-balls", barrier: true }]);
    expect(topLayerDepth(two)).toBeCloseTo(0.08, 9);
    const three = withNewLayer(two, CATALOG);
    expect(layersBelow(three).map((l) => l.material_id)).toEqual(["soil", "clay-balls"]);
    expect(shallowestGround(three)).toBeCloseTo(0.085, 9);
  });

  it("grow each for itself, and the surface with them", () => {
    const thick = withLayerDepth(two, 1, 0.06);
    expect(thick.substrate.depth_m).toBeCloseTo(0.14, 9);
    expect(topLayerDepth(thick)).toBeCloseTo(0.08, 9);
    const top = withLayerDepth(two, 0, 0.1);
    expect(top.substrate.depth_m).toBeCloseTo(0.14, 9);
    expect(layersBelow(top)[0]?.depth_m).toBeCloseTo(0.04, 9);
  });

  it("are removed without a trace", () => {
    expect(withoutLayer(two, 1)).toEqual({ ...PLAN, substrate: { ...PLAN.substrate, below: [] } });
    const bare = withoutLayer(two, 0);
    expect(bare.substrate).toMatchObject({ material_id: "clay-balls", depth_m: 0.04, below: [] });
    expect(withoutLayer(PLAN, 0)).toBe(PLAN);
  });

  it("are drawn from the top down", () => {
    expect(bandsOf(two.substrate)).toMatchObject([
      { low: 0.04, high: 0.12, barrier: false },
      { low: 0, high: 0.04, barrier: true },
    ]);
  });

  it("say what they are mixed from", () => {
    const mix = {
      material_id: "soil",
      parts: 3,
      mixed: [{ material_id: "sand-soil", parts: 1 }],
    };
    expect(mixWords(mix, CATALOG)).toBe("3 topsoil, 1 sand and soil mix");
    expect(mixWords(withMix(two, 1, mix).substrate.below[0] ?? mix, CATALOG)).toContain(
      "3 topsoil",
    );
    expect(mixWords({ ...mix, mixed: [] }, CATALOG)).toBe("Topsoil, moist");
  });
});

describe("burrows", () => {
  const deep = withGroundDepth(PLAN, 0.3);

  it("lie in the ground, wide enough for the animal, and keep it deep enough", () => {
    const { document, burrow } = withNewBurrow(deep);
    expect(burrow.diameter_m).toBeGreaterThan(PLAN.animal.back_height_m);
    expect(burrow.depth_m + burrow.diameter_m / 2).toBeLessThanOrEqual(0.3);
    expect(shallowestGround(document)).toBeCloseTo(burrow.depth_m + burrow.diameter_m / 2, 4);
    const lower = burrowsOf(withBurrow(document, burrow.id, { depth_m: 9, x_m: -1 }))[0];
    expect(lower?.depth_m).toBeCloseTo(0.3 - burrow.diameter_m / 2, 4);
    expect(lower?.x_m).toBeCloseTo(burrow.diameter_m / 2, 4);
    expect(withNewBurrow(document).burrow.id).not.toBe(burrow.id);
    expect(burrowsOf(withoutBurrow(document, burrow.id))).toEqual([]);
  });

  it("are not offered in ground that is too shallow", () => {
    expect(canAddBurrow(withGroundDepth(PLAN, 0.05))).toBe(false);
    expect(canAddBurrow(deep)).toBe(true);
  });
});

describe("zones", () => {
  it("begin as a damp corner, stay inside, and go", () => {
    const { document, zone } = withNewZone(PLAN);
    expect(zonesOf(document)).toEqual([zone]);
    expect(zone.x_m + zone.length_m / 2).toBeCloseTo(PLAN.enclosure.length_m, 9);
    const moved = zonesOf(withZone(document, zone.id, { x_m: 9, width_m: 9 }))[0];
    expect(moved?.x_m).toBeCloseTo(PLAN.enclosure.length_m - zone.length_m / 2, 9);
    expect(moved?.width_m).toBeCloseTo(PLAN.enclosure.depth_m, 9);
    expect(withNewZone(document).zone.id).not.toBe(zone.id);
    expect(zonesOf(withoutZone(document, zone.id))).toEqual([]);
  });
});
