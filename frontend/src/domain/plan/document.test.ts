import { describe, expect, it } from "vitest";
import type { Fixture, Furnishing, Lamp, PlanDocument } from "../../api/types";
import {
  copiedFixture,
  extentOf,
  fixturesOf,
  furnishingsOf,
  highestLamp,
  lampMargins,
  mounted,
  newFixture,
  newThermostat,
  thermostatsOf,
  topOf,
  withFixture,
  withoutFixture,
  withoutThermostat,
  withThermostat,
} from "./document";
import { PLAN } from "./plan.fixture";

const lampOf = (d: PlanDocument): Fixture => fixturesOf(d)[0] as Fixture;
const slabOf = (d: PlanDocument): Furnishing => furnishingsOf(d)[0] as Furnishing;
const withTop = (top: unknown): PlanDocument =>
  ({
    ...PLAN,
    enclosure: { ...PLAN.enclosure, walls: { ...PLAN.enclosure.walls, top } },
  }) as PlanDocument;
const OPEN = withTop({ kind: "mesh", mesh_id: "medium-0.7-4.0", measured_uv: null });

describe("fixtures", () => {
  it("changes one and leaves the document before unchanged", () => {
    const after = withFixture(PLAN, "basking-lamp", { power_w: 50 });
    expect(lampOf(after).power_w).toBe(50);
    expect(lampOf(PLAN).power_w).toBe(75);
    expect(after.furnishings).toBe(PLAN.furnishings);
  });

  it("changes nothing for an id that is not there", () => {
    expect(withFixture(PLAN, "nobody", { power_w: 1 })).toEqual(PLAN);
  });

  it("hangs a new lamp under a closed lid, and above an open one", () => {
    expect(newFixture(PLAN).position_m.z_m).toBeCloseTo(0.52, 9);
    expect(newFixture(OPEN).position_m.z_m).toBeCloseTo(0.63, 9);
    expect(highestLamp(PLAN)).toBe(0.6);
    expect(highestLamp(OPEN)).toBe(1.1);
  });

  it("never gives an id twice", () => {
    let d = PLAN;
    for (let i = 0; i < 5; i++) d = { ...d, fixtures: [...fixturesOf(d), newFixture(d)] };
    d = withoutFixture(d, "lamp-3");
    d = { ...d, fixtures: [...fixturesOf(d), newFixture(d)] };
    const ids = fixturesOf(d).map((f) => f.id);
    expect(new Set(ids).size).toBe(ids.length);
  });

  it("copies to the right, or to the left at the wall, unlocked and named as a copy", () => {
    const lamp = { ...lampOf(PLAN), locked: true };
    const right = copiedFixture(PLAN, lamp);
    expect(right.position_m.x_m).toBeCloseTo(0.33, 9);
    expect(right).toMatchObject({ label: "Basking lamp (copy)", locked: false });
    const wall = { ...lamp, position_m: { ...lamp.position_m, x_m: 1.19 } };
    expect(copiedFixture(PLAN, wall).position_m.x_m).toBeCloseTo(1.14, 9);
    expect(copiedFixture(PLAN, right).label).toBe("Basking lamp (copy)");
  });

  it("lays a mat under the floor and hangs a lamp again", () => {
    const mat = mounted(PLAN, lampOf(PLAN), { kind: "mat" } as Lamp);
    expect(mat).toMatchObject({ mount: "floor", lit: "always", position_m: { z_m: 0 } });
    const lying = { ...lampOf(PLAN), ...mat } as Fixture;
    expect(mounted(PLAN, lying, { kind: "bulb" } as Lamp)).toMatchObject({ mount: "air" });
    expect(mounted(PLAN, lampOf(PLAN), { kind: "bulb" } as Lamp)).toEqual({});
  });

  it("keeps half a tube's length from the walls it points at", () => {
    const tube = { shape: "line", length_m: 0.9 } as Lamp;
    const lamp = lampOf(PLAN);
    expect(lampMargins(PLAN, lamp, tube).x).toBeCloseTo(0.45, 9);
    expect(lampMargins(PLAN, { ...lamp, turn_deg: 90 }, tube).y).toBeCloseTo(0.3, 9);
    expect(lampMargins(PLAN, { ...lamp, turn_deg: 90 }, tube).x).toBeCloseTo(0, 9);
    const above = { ...lamp, position_m: { ...lamp.position_m, z_m: 0.7 } };
    expect(lampMargins(PLAN, above, tube)).toEqual({ x: 0, y: 0 });
  });
});

describe("thermostats", () => {
  const made = newThermostat(PLAN);
  const d = withFixture({ ...PLAN, thermostats: [made] }, "basking-lamp", {
    thermostat_id: made.id,
  });

  it("starts with its probe in the middle of the air", () => {
    expect(made.probe_m).toEqual({ x_m: 0.6, y_m: 0.3, z_m: 0.34 });
  });

  it("is changed by its id", () => {
    const after = withThermostat(d, made.id, { day_set_point_c: 31 });
    expect(thermostatsOf(after)[0]?.day_set_point_c).toBe(31);
  });

  it("leaves its lamps on their timers when it is removed", () => {
    const after = withoutThermostat(d, made.id);
    expect(thermostatsOf(after)).toEqual([]);
    expect(lampOf(after).thermostat_id).toBeNull();
  });
});

describe("extents", () => {
  it("puts a slab above the substrate by its underside", () => {
    const e = extentOf(PLAN, slabOf(PLAN));
    expect(e).toMatchObject({ x0: expect.closeTo(0.13, 9), x1: expect.closeTo(0.43, 9) });
    expect(e.z0).toBeCloseTo(0.18, 9);
    expect(topOf(PLAN, slabOf(PLAN))).toBeCloseTo(0.2, 9);
  });

  it.each([
    ["left", { x0: 0, x1: 0.03 }],
    ["right", { x0: 1.17, x1: 1.2 }],
    ["front", { y0: 0, y1: 0.03 }],
    ["back", { y0: 0.57, y1: 0.6 }],
  ] as const)("lines the %s with a background", (side, part) => {
    const item = { type: "background", id: "b", label: "B", side, thickness_m: 0.03 };
    const e = extentOf(PLAN, item as unknown as Furnishing);
    for (const [key, value] of Object.entries(part)) {
      expect(e[key as keyof typeof e]).toBeCloseTo(value, 9);
    }
    expect(topOf(PLAN, item as unknown as Furnishing)).toBe(0);
  });
});
