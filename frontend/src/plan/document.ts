/** Pure edits of a plan document, and what they are called in the history. */
import type { Fixture, Furnishing, PatchStep, PlanDocument, Thermostat } from "../api/types";

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

/** Apply "replace" steps with JSON Pointers. */
export function applyPatch(d: PlanDocument, steps: readonly PatchStep[]): PlanDocument {
  const copy = structuredClone(d) as unknown as Record<string, unknown>;
  for (const step of steps) {
    const keys = step.path
      .slice(1)
      .split("/")
      .map((k) => k.replaceAll("~1", "/").replaceAll("~0", "~"));
    const last = keys.pop();
    let here: Record<string, unknown> = copy;
    for (const key of keys) here = here[key] as Record<string, unknown>;
    if (last !== undefined) here[last] = step.value;
  }
  return copy as unknown as PlanDocument;
}

/** Highest z a lamp may hang at: below a closed lid, or some way above an open one. */
export function highestLamp(d: PlanDocument): number {
  return d.box.walls.top.kind === "solid" ? d.box.height_m : d.box.height_m + 0.5;
}

/** Height of the slab's upper face, or of a hide's roof, above the box floor. */
export function topOf(d: PlanDocument, item: Furnishing): number {
  const ground = d.substrate.depth_m;
  return item.type === "slab"
    ? ground + item.underside_m + item.thickness_m
    : ground + item.height_m;
}

/** Substrate may rise until something standing on it meets the lid or a lamp. */
export function deepestSubstrate(d: PlanDocument): number {
  let room = d.box.height_m - 0.05;
  for (const item of furnishingsOf(d)) {
    room = Math.min(room, d.box.height_m - (topOf(d, item) - d.substrate.depth_m));
  }
  for (const lamp of fixturesOf(d)) room = Math.min(room, lamp.position_m.z_m - 0.01);
  for (const t of thermostatsOf(d)) room = Math.min(room, t.probe_m.z_m);
  return Math.max(d.substrate.depth_m, room);
}
