import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { applyPatch, PatchError } from "./patch";
import { PLAN } from "./plan.fixture";

describe("applyPatch", () => {
  it("replaces a value deep inside and leaves the given document alone", () => {
    const before = structuredClone(PLAN);
    const after = applyPatch(PLAN, [{ op: "replace", path: "/fixtures/0/power_w", value: 50 }]);
    expect(after.fixtures?.[0]?.power_w).toBe(50);
    expect(PLAN).toEqual(before);
  });

  it("adds at the end, and at the index it is given", () => {
    const pin = (id: string) => ({ id, label: id, at_m: { x_m: 0.1, y_m: 0.1, z_m: 0.1 } });
    const after = applyPatch(PLAN, [
      { op: "add", path: "/pins/-", value: pin("a") },
      { op: "add", path: "/pins/-", value: pin("c") },
      { op: "add", path: "/pins/1", value: pin("b") },
    ]);
    expect(after.pins?.map((p) => p.id)).toEqual(["a", "b", "c"]);
  });

  it("removes from lists and members of objects", () => {
    const without = applyPatch(PLAN, [
      { op: "remove", path: "/fixtures/0", value: null },
      { op: "remove", path: "/substrate/wetness", value: null },
    ]);
    expect(without.fixtures).toEqual([]);
    expect(without.substrate).not.toHaveProperty("wetness");
  });

  it("sets a member that the document leaves out", () => {
    const after = applyPatch(PLAN, [{ op: "replace", path: "/photoperiod_h", value: 13 }]);
    expect(after.photoperiod_h).toBe(13);
  });

  it("reads escaped pointers", () => {
    const odd = { ...PLAN, "a/b~c": 1 } as unknown as typeof PLAN;
    const after = applyPatch(odd, [{ op: "replace", path: "/a~1b~0c", value: 2 }]);
    expect((after as unknown as Record<string, number>)["a/b~c"]).toBe(2);
  });

  it("refuses what does not fit instead of dropping it", () => {
    expect(() => applyPatch(PLAN, [{ op: "remove", path: "/fixtures/7", value: null }])).toThrow(
      PatchError,
    );
    expect(() =>
      applyPatch(PLAN, [{ op: "replace", path: "/fixtures/7/power_w", value: 5 }]),
    ).toThrow();
  });

  it("undoes an addition by a removal, wherever it is", () => {
    fc.assert(
      fc.property(fc.nat({ max: 1 }), fc.double({ min: 1, max: 200, noNaN: true }), (at, watts) => {
        const lamp = { ...PLAN.fixtures?.[0], id: "new", power_w: watts };
        const path = `/fixtures/${at}`;
        const there = applyPatch(PLAN, [{ op: "add", path, value: lamp }]);
        expect(there.fixtures).toHaveLength(2);
        expect(applyPatch(there, [{ op: "remove", path, value: null }])).toEqual(PLAN);
      }),
    );
  });
});
