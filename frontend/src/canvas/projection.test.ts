import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { PLAN } from "../domain/plan/plan.fixture";
import { headroom, projection } from "./projection";

describe("projection", () => {
  it("comes back to the same metres, and fits the drawing", () => {
    const size = fc.double({ min: 0.2, max: 3, noNaN: true });
    fc.assert(
      fc.property(size, size, size, (length, height, at) => {
        const p = projection({ length_m: length, height_m: height }, 0.02, 900, 600);
        expect(p.toX(p.x(at))).toBeCloseTo(at, 6);
        expect(p.toZ(p.y(at))).toBeCloseTo(at, 6);
        expect(p.x(0)).toBeGreaterThan(0);
        expect(p.x(length)).toBeLessThan(900);
        expect(p.y(0)).toBeLessThan(p.height);
        expect(p.height).toBeLessThanOrEqual(600.001);
      }),
    );
  });

  it("leaves room above a lid that lamps can stand on", () => {
    const mesh = { kind: "mesh", mesh_id: "fine", measured_uv: null } as const;
    const open = {
      ...PLAN,
      enclosure: { ...PLAN.enclosure, walls: { ...PLAN.enclosure.walls, top: mesh } },
    };
    expect(headroom(PLAN)).toBe(0.02);
    expect(headroom(open)).toBe(0.3);
    const high = {
      ...open,
      fixtures: open.fixtures?.map((f) => ({ ...f, position_m: { ...f.position_m, z_m: 0.95 } })),
    };
    expect(headroom(high)).toBe(0.6);
    // Where no lamp hangs, none is drawn above.
    const mats = {
      ...open,
      fixtures: open.fixtures?.map((f) => ({ ...f, mount: "floor" as const })),
    };
    expect(headroom(mats)).toBe(0.02);
    expect(headroom({ ...open, fixtures: [] })).toBe(0.02);
  });
});
