/** Pure edits of a plan document, and what they are called in the history. */
import type {
  Catalog,
  Fixture,
  Furnishing,
  Lamp,
  PlanDocument,
  Thermostat,
  Wall,
} from "../../api/types";

import { clamp, tidy } from "./lengths";

export const furnishingsOf = (d: PlanDocument): readonly Furnishing[] => d.furnishings ?? [];
export const fixturesOf = (d: PlanDocument): readonly Fixture[] => d.fixtures ?? [];
export const thermostatsOf = (d: PlanDocument): readonly Thermostat[] => d.thermostats ?? [];

export function withFixture(d: PlanDocument, id: string, change: Partial<Fixture>): PlanDocument {
  return {
    ...d,
    fixtures: fixturesOf(d).map((f) => (f.id === id ? { ...f, ...change } : f)),
  };
}

export function withThermostat(
  d: PlanDocument,
  id: string,
  change: Partial<Thermostat>,
): PlanDocument {
  return {
    ...d,
    thermostats: thermostatsOf(d).map((t) => (t.id === id ? { ...t, ...change } : t)),
  };
}

/** A tube to start from, where there is room for one: under a closed lid, on any other. */
export function newFixture(d: PlanDocument): Fixture {
  const taken = new Set(fixturesOf(d).map((f) => f.id));
  let number = fixturesOf(d).length + 1;
  while (taken.has(`lamp-${number}`)) number++;
  const closed = highestLamp(d) === d.enclosure.height_m;
  return {
    id: `lamp-${number}`,
    label: `Lamp ${number}`,
    lamp_id: "compact-mild",
    power_w: 13,
    position_m: {
      x_m: d.enclosure.length_m / 2,
      y_m: d.enclosure.depth_m / 2,
      z_m: Number((d.enclosure.height_m + (closed ? -0.08 : 0.03)).toFixed(3)),
    },
    lit: "day",
    hours: 100,
    screen_id: null,
    screen_measured: null,
    thermostat_id: null,
    turn_deg: 0,
    lean_deg: 0,
    tilt_deg: 0,
    mount: "air",
    timer: [],
    guard: false,
    locked: false,
  };
}

/** Another of the same lamp, a little to the right or left. */
export function copiedFixture(d: PlanDocument, f: Fixture): Fixture {
  const { id } = newFixture(d);
  const away = f.position_m.x_m + 0.05 <= d.enclosure.length_m ? 0.05 : -0.05;
  const x_m = Number((f.position_m.x_m + away).toFixed(4));
  const label = `${f.label.replace(/ \(copy\)$/, "").slice(0, 72)} (copy)`;
  return { ...f, id, label, locked: false, position_m: { ...f.position_m, x_m } };
}

const FACES = ["floor", "front", "back", "left", "right"] as const;

/** The face a mat lies against; null for a lamp that shines into the enclosure. */
export const against = (f: Fixture): (typeof FACES)[number] | null =>
  FACES.find((face) => face === f.mount) ?? null;

/** What changes about a fixture's place with its kind: mats lie under the floor, all else hangs. */
export function mounted(d: PlanDocument, f: Fixture, lamp: Lamp): Partial<Fixture> {
  if (lamp.kind === "mat" && against(f) === null) {
    return { mount: "floor", position_m: { ...f.position_m, z_m: 0 }, lit: "always" };
  }
  if (lamp.kind !== "mat" && against(f) !== null) {
    return { mount: "air", position_m: { ...f.position_m, z_m: newFixture(d).position_m.z_m } };
  }
  return {};
}

/** A thermostat to start from, its probe in the middle of the air, governing nothing yet. */
export function newThermostat(d: PlanDocument): Thermostat {
  const taken = new Set([...thermostatsOf(d), ...fixturesOf(d)].map((t) => t.id));
  let number = thermostatsOf(d).length + 1;
  while (taken.has(`thermostat-${number}`)) number++;
  return {
    id: `thermostat-${number}`,
    label: `Thermostat ${number}`,
    kind: "on_off",
    day_set_point_c: 28,
    night_set_point_c: null,
    differential_k: 1,
    probe_m: {
      x_m: d.enclosure.length_m / 2,
      y_m: d.enclosure.depth_m / 2,
      z_m: Number(((d.substrate.depth_m + d.enclosure.height_m) / 2).toFixed(3)),
    },
    time_constant_s: 60,
    ramp_h: 0,
    cut_out_c: null,
  };
}

/** Without a thermostat; what it governed is on its timer alone. */
export function withoutThermostat(d: PlanDocument, id: string): PlanDocument {
  return {
    ...d,
    thermostats: thermostatsOf(d).filter((t) => t.id !== id),
    fixtures: fixturesOf(d).map((f) =>
      f.thermostat_id === id ? { ...f, thermostat_id: null } : f,
    ),
  };
}

export function withoutFixture(d: PlanDocument, id: string): PlanDocument {
  return { ...d, fixtures: fixturesOf(d).filter((f) => f.id !== id) };
}

/** The parts of the lid that are made differently from the rest. */
export function lidParts(d: PlanDocument) {
  return (d.enclosure.insets ?? []).filter((i) => (i.face ?? "top") === "top");
}

/** How far outside the lid or a side a lamp may stand, m. */
const MOST_OUTSIDE_M = 0.5;

/** Highest z a lamp may hang at: below a closed lid, or some way above an open one. */
export function highestLamp(d: PlanDocument): number {
  const parts = [d.enclosure.walls.top, ...lidParts(d).map((i) => i.wall)];
  return parts.every((wall) => wall.kind === "solid")
    ? d.enclosure.height_m
    : d.enclosure.height_m + MOST_OUTSIDE_M;
}

/** How far outside each side a lamp can stand and shine in, m: where some part of it is open, mesh or a pane. */
export function outsideRoom(d: PlanDocument, catalog: Pick<Catalog, "materials">) {
  const passes = (wall: Wall) =>
    wall.kind !== "solid" || catalog.materials.some((m) => m.id === wall.material_id && m.pane);
  const room = (face: "left" | "right" | "front" | "back") => {
    const parts = (d.enclosure.insets ?? []).filter((i) => i.face === face).map((i) => i.wall);
    return [d.enclosure.walls[face], ...parts].some(passes) ? MOST_OUTSIDE_M : 0;
  };
  return { left: room("left"), right: room("right"), front: room("front"), back: room("back") };
}

/** A lamp's place along one axis: inside, clear of both ends, or outside where light can get in. */
export function keptBeside(
  at: number,
  margin: number,
  length: number,
  room: { left: number; right: number },
): number {
  if (at < 0 && room.left > 0) return Math.max(-room.left, at);
  if (at > length && room.right > 0) return Math.min(length + room.right, at);
  return Math.min(length - margin, Math.max(margin, at));
}

/**
 * How far a lamp's middle stays from the ends and the glass: a tube inside the enclosure needs its half length; what
 * hangs over the enclosure may reach beyond it.
 */
export function lampMargins(d: PlanDocument, f: Fixture, lamp: Lamp): { x: number; y: number } {
  const long = lamp.shape === "line" || lamp.shape === "panel";
  if (f.position_m.z_m > d.enclosure.height_m || against(f) !== null || !long)
    return { x: 0, y: 0 };
  const rad = (deg: number) => (deg * Math.PI) / 180;
  const half = ((lamp.length_m ?? 0) / 2) * Math.cos(rad(f.lean_deg));
  return {
    x: Math.min(d.enclosure.length_m / 2, half * Math.abs(Math.cos(rad(f.turn_deg)))),
    y: Math.min(d.enclosure.depth_m / 2, half * Math.abs(Math.sin(rad(f.turn_deg)))),
  };
}

/** The place nearest to a wanted one where a lamp may be: in the enclosure, or outside where its light gets in. */
export function lampWithin(
  d: PlanDocument,
  catalog: Pick<Catalog, "materials">,
  f: Fixture,
  lamp: Lamp,
  to: Fixture["position_m"],
): Fixture["position_m"] {
  const margin = lampMargins(d, f, lamp);
  const room = outsideRoom(d, catalog);
  const lowest = against(f) === null ? d.substrate.depth_m + 0.01 : 0;
  return {
    x_m: tidy(keptBeside(to.x_m, margin.x, d.enclosure.length_m, room)),
    y_m: tidy(
      keptBeside(to.y_m, margin.y, d.enclosure.depth_m, { left: room.front, right: room.back }),
    ),
    z_m: f.mount === "floor" ? 0 : tidy(clamp(to.z_m, lowest, highestLamp(d))),
  };
}

/** Whether its own hours, or else its period of the day, have a lamp on at an hour, as the core has it. */
export function isOnAt(f: Fixture, hour: number, photoperiodH: number): boolean {
  if (f.timer && f.timer.length > 0) {
    return f.timer.some(({ on_h, off_h }) =>
      on_h <= off_h ? on_h <= hour && hour < off_h : hour >= on_h || hour < off_h,
    );
  }
  const day = 12 - photoperiodH / 2 <= hour && hour < 12 + photoperiodH / 2;
  return f.lit === "always" || (f.lit === "day") === day;
}

/** The space a furnishing takes up in the enclosure, m. */
export interface Extent {
  readonly x0: number;
  readonly x1: number;
  readonly y0: number;
  readonly y1: number;
  readonly z0: number;
  readonly z1: number;
}

export function extentOf(d: PlanDocument, item: Furnishing): Extent {
  const ground = d.substrate.depth_m;
  if (item.type === "branch") {
    const [a, b, r] = [item.start_m, item.end_m, item.diameter_m / 2];
    return {
      x0: Math.min(a.x_m, b.x_m) - r,
      x1: Math.max(a.x_m, b.x_m) + r,
      y0: Math.min(a.y_m, b.y_m) - r,
      y1: Math.max(a.y_m, b.y_m) + r,
      z0: Math.min(a.z_m, b.z_m) - r,
      z1: Math.max(a.z_m, b.z_m) + r,
    };
  }
  if (item.type === "background") {
    const { length_m: l, depth_m: w, height_m: h } = d.enclosure;
    const t = item.thickness_m;
    return {
      x0: item.side === "right" ? l - t : 0,
      x1: item.side === "left" ? t : l,
      y0: item.side === "back" ? w - t : 0,
      y1: item.side === "front" ? t : w,
      z0: 0,
      z1: h,
    };
  }
  if (item.type === "water") return onGround(item, ground, item.depth_m);
  const base = item.type === "hide" ? ground : ground + item.underside_m;
  const thick = item.type === "slab" ? item.thickness_m : item.height_m;
  return onGround(item, base, thick);
}

type Rectangle = { x_m: number; y_m: number; length_m: number; width_m: number };

function onGround(item: Rectangle, base: number, thick: number): Extent {
  return {
    x0: item.x_m - item.length_m / 2,
    x1: item.x_m + item.length_m / 2,
    y0: item.y_m - item.width_m / 2,
    y1: item.y_m + item.width_m / 2,
    z0: base,
    z1: base + thick,
  };
}

/** Height of a furnishing's highest point above the enclosure floor; backgrounds line the whole wall. */
export function topOf(d: PlanDocument, item: Furnishing): number {
  return item.type === "background" ? 0 : extentOf(d, item).z1;
}
