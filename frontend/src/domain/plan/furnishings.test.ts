import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Furnishing, PlanDocument } from "../../api/types";
import { extentOf, furnishingsOf } from "./document";
import {
  copied,
  fitted,
  handlesOf,
  isPlaced,
  KINDS,
  movedTo,
  newFurnishing,
  placeOf,
  turned,
  withBasking,
  withFurnishing,
  withoutFurnishing,
} from "./furnishings";
import { PLAN } from "./plan.fixture";

const kinds = fc.constantFrom(...KINDS.map((k) => k.kind));
const somewhere = fc.record({
  x: fc.double({ min: -2, max: 3, noNaN: true }),
  y: fc.double({ min: -2, max: 3, noNaN: true }),
  z: fc.double({ min: -2, max: 3, noNaN: true }),
});
const DUST = 1e-4;

function expectInside(d: PlanDocument, item: Furnishing) {
  const e = extentOf(d, item);
  const { length_m, depth_m, height_m } = d.enclosure;
  // A branch is placed by its axis; its bark may reach into the wall.
  const bark = item.type === "branch" ? item.diameter_m / 2 : 0;
  expect(e.x0).toBeGreaterThanOrEqual(-DUST - bark);
  expect(e.x1).toBeLessThanOrEqual(length_m + DUST + bark);
  expect(e.y0).toBeGreaterThanOrEqual(-DUST - bark);
  expect(e.y1).toBeLessThanOrEqual(depth_m + DUST + bark);
  expect(e.z1).toBeLessThanOrEqual(height_m + DUST + bark);
}

describe("adding", () => {
  it.each(KINDS.map((k) => k.kind))("makes a %s that lies inside the enclosure", (kind) => {
    const item = newFurnishing(PLAN, kind);
    expectInside(PLAN, item);
    expect(item.locked).toBe(false);
  });

  it("fits things into a small enclosure too", () => {
    const small = {
      ...PLAN,
      enclosure: { ...PLAN.enclosure, length_m: 0.3, depth_m: 0.2, height_m: 0.25 },
      substrate: { ...PLAN.substrate, depth_m: 0.03 },
    };
    for (const { kind } of KINDS) expectInside(small, newFurnishing(small, kind));
  });

  it("numbers what there is already, and makes only the first slab the basking spot", () => {
    let d: PlanDocument = { ...PLAN, furnishings: [] };
    const labels = [1, 2, 3].map(() => {
      const slab = newFurnishing(d, "slab");
      d = { ...d, furnishings: [...furnishingsOf(d), slab] };
      return slab.label;
    });
    expect(labels).toEqual(["Slab", "Slab 2", "Slab 3"]);
    expect(furnishingsOf(d).filter((f) => f.type === "slab" && f.basking)).toHaveLength(1);
  });
});

describe("moving", () => {
  it("keeps everything inside, wherever it is dragged", () => {
    fc.assert(
      fc.property(kinds, somewhere, (kind, to) => {
        expectInside(PLAN, movedTo(PLAN, newFurnishing(PLAN, kind), to));
      }),
    );
  });

  it("changes neither size nor form", () => {
    fc.assert(
      fc.property(kinds, somewhere, (kind, to) => {
        const item = newFurnishing(PLAN, kind);
        const [a, b] = [item, movedTo(PLAN, item, to)].map((f) => extentOf(PLAN, f));
        expect((b?.x1 ?? 0) - (b?.x0 ?? 0)).toBeCloseTo((a?.x1 ?? 0) - (a?.x0 ?? 0), 3);
        expect((b?.y1 ?? 0) - (b?.y0 ?? 0)).toBeCloseTo((a?.y1 ?? 0) - (a?.y0 ?? 0), 3);
      }),
    );
  });

  it("moves to where it can be", () => {
    const slab = newFurnishing(PLAN, "slab");
    expect(placeOf(PLAN, movedTo(PLAN, slab, { x: 0.5, y: 0.25, z: 0.3 }))).toEqual({
      x: expect.closeTo(0.5, 6),
      y: expect.closeTo(0.25, 6),
      z: expect.closeTo(0.3, 6),
    });
  });

  it("leaves a background on its side", () => {
    const back = newFurnishing(PLAN, "back");
    expect(isPlaced(back)).toBe(false);
    expect(movedTo(PLAN, back, { x: 0, y: 0, z: 0 })).toBe(back);
  });
});

describe("turning", () => {
  it("exchanges length and width and takes the opening along", () => {
    const hide = newFurnishing(PLAN, "hide");
    const once = turned(PLAN, hide);
    if (hide.type !== "hide" || once.type !== "hide") throw new Error("no hides");
    expect([once.length_m, once.width_m]).toEqual([hide.width_m, hide.length_m]);
    expect([hide.opening, once.opening]).toEqual(["front", "right"]);
    const round = [1, 2, 3].reduce<Furnishing>((f) => turned(PLAN, f), once);
    expect(round).toEqual(hide);
  });
});

describe("stretching", () => {
  it("keeps the opposite edge where it is, and everything inside", () => {
    const slab = newFurnishing(PLAN, "slab");
    const before = extentOf(PLAN, slab);
    fc.assert(
      fc.property(somewhere, (to) => {
        for (const handle of handlesOf(PLAN, slab)) {
          const stretched = handle.to(to);
          const e = extentOf(PLAN, stretched);
          expectInside(PLAN, stretched);
          if (handle.name === "Left edge") expect(e.x1).toBeCloseTo(before.x1, 3);
          if (handle.name === "Right edge") expect(e.x0).toBeCloseTo(before.x0, 3);
          if (handle.name === "Front edge") expect(e.y1).toBeCloseTo(before.y1, 3);
          if (handle.name === "Top") expect(e.z0).toBeCloseTo(before.z0, 3);
          expect(e.x1 - e.x0).toBeGreaterThanOrEqual(0.01 - DUST);
        }
      }),
    );
  });

  it("does not make a branch shorter than its ends are apart at least", () => {
    const branch = newFurnishing(PLAN, "branch");
    if (branch.type !== "branch") throw new Error("no branch");
    const [start] = handlesOf(PLAN, branch);
    const end = branch.end_m;
    expect(start?.to({ x: end.x_m, y: end.y_m, z: end.z_m })).toBe(branch);
  });

  it("offers no handles on a background", () => {
    expect(handlesOf(PLAN, newFurnishing(PLAN, "back"))).toEqual([]);
  });

  it("keeps a pile within its slab and an opening within its side", () => {
    const slab = { ...newFurnishing(PLAN, "slab"), stack: { length_m: 9, width_m: 9 } };
    const pile = fitted(slab as Furnishing);
    if (pile.type !== "slab") throw new Error("no slab");
    expect(pile.stack).toEqual({ length_m: pile.length_m, width_m: pile.width_m });
    const wide = { ...newFurnishing(PLAN, "hide"), opening_width_m: 9, opening_height_m: 9 };
    const hide = fitted(wide as Furnishing);
    if (hide.type !== "hide") throw new Error("no hide");
    expect(hide.opening_width_m).toBe(hide.length_m);
    expect(hide.opening_height_m).toBeCloseTo(hide.height_m - hide.wall_m, 9);
  });
});

describe("copying and removing", () => {
  it("puts the copy beside the first, unlocked, and never as a second basking spot", () => {
    const slab = furnishingsOf(PLAN)[0] as Furnishing;
    const twin = copied(PLAN, { ...slab, locked: true });
    expect(placeOf(PLAN, twin).x).toBeCloseTo(placeOf(PLAN, slab).x + 0.05, 6);
    expect(twin).toMatchObject({ locked: false, basking: false, label: "Slate slab 2" });
    expect(twin.id).not.toBe(slab.id);
  });

  it("puts it to the left where the wall is near", () => {
    const slab = furnishingsOf(PLAN)[0] as Furnishing;
    const right = movedTo(PLAN, slab, { x: 9, y: 0.3, z: 0.18 });
    expect(placeOf(PLAN, copied(PLAN, right)).x).toBeLessThan(placeOf(PLAN, right).x);
  });

  it("replaces and removes by id", () => {
    const slab = furnishingsOf(PLAN)[0] as Furnishing;
    const named = withFurnishing(PLAN, { ...slab, label: "Ledge" });
    expect(furnishingsOf(named).map((f) => f.label)).toEqual(["Ledge"]);
    expect(furnishingsOf(withoutFurnishing(PLAN, slab.id))).toEqual([]);
    expect(furnishingsOf(withBasking(PLAN, slab.id, false))[0]).toMatchObject({ basking: false });
  });
});
