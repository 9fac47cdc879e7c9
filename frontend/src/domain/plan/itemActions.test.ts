import { describe, expect, it, vi } from "vitest";
import type { Fixture, Furnishing, PlanDocument } from "../../api/types";
import { fixturesOf, furnishingsOf } from "./document";
import { fixtureActions, furnishingActions, makeStepRunner, stepFor } from "./itemActions";
import {
  addPin,
  beadOf,
  beadsDiffer,
  inEnclosure,
  MOST_PINS,
  newPin,
  pinActions,
  pinsOf,
  withBead,
  withoutPin,
  withPin,
} from "./pins";
import { PLAN } from "./plan.fixture";
import { moved, ventActions, ventKey, ventsOf } from "./vents";

const lamp = fixturesOf(PLAN)[0] as Fixture;
const slab = furnishingsOf(PLAN)[0] as Furnishing;
const press = (key: string, held: Partial<{ ctrlKey: boolean; altKey: boolean }> = {}) => ({
  key,
  altKey: false,
  ctrlKey: false,
  metaKey: false,
  ...held,
});

describe("keys on a selected item", () => {
  const actions = fixtureActions(PLAN, lamp);

  it.each([
    ["Delete", "Basking lamp removed"],
    ["Backspace", "Basking lamp removed"],
    ["l", "Basking lamp locked"],
    ["r", "Basking lamp turned"],
    ["G", "Basking lamp behind a guard"],
  ])("%s: %s", (key, summary) => {
    expect(stepFor(press(key), actions)?.summary).toBe(summary);
  });

  it("copies by Ctrl D and leaves other combinations to the browser", () => {
    expect(stepFor(press("d", { ctrlKey: true }), actions)?.summary).toBe(
      "Basking lamp (copy) added",
    );
    expect(stepFor(press("r", { ctrlKey: true }), actions)).toBeNull();
    expect(stepFor(press("Delete", { altKey: true }), actions)).toBeNull();
    expect(stepFor(press("x"), actions)).toBeNull();
  });

  it("neither turns nor removes what is locked, but unlocks and copies it", () => {
    const locked = furnishingActions(PLAN, { ...slab, locked: true });
    expect(stepFor(press("Delete"), locked)).toBeNull();
    expect(stepFor(press("r"), locked)).toBeNull();
    expect(stepFor(press("l"), locked)?.summary).toBe("Slate slab unlocked");
    expect(stepFor(press("d", { ctrlKey: true }), locked)?.summary).toBe("Slate slab 2 added");
  });

  it("turns a lamp by quarters and back to where it was", () => {
    let d: PlanDocument = PLAN;
    for (let i = 0; i < 4; i++) {
      const now = fixturesOf(d)[0] as Fixture;
      d = fixtureActions(d, now).turn?.().document ?? d;
      expect(Math.abs(fixturesOf(d)[0]?.turn_deg ?? 999)).toBeLessThanOrEqual(180);
    }
    expect(fixturesOf(d)[0]?.turn_deg).toBe(0);
  });

  it("commits a step and selects what it made", () => {
    const [commit, select] = [vi.fn(), vi.fn()];
    const run = makeStepRunner(commit, select);
    const copy = actions.copy();
    run(copy);
    expect(commit).toHaveBeenCalledWith(copy.document, copy.summary);
    expect(select).toHaveBeenCalledWith(copy.select);
    run(actions.remove());
    expect(select).toHaveBeenCalledTimes(1);
  });
});

describe("pins", () => {
  it("stay in the air of the enclosure", () => {
    expect(inEnclosure(PLAN, { x_m: -1, y_m: 9, z_m: -1 })).toEqual({ x_m: 0, y_m: 0.6, z_m: 0 });
  });

  it("are numbered, replaced by id, copied beside and removed", () => {
    const first = newPin(PLAN);
    const d = withPin(PLAN, first);
    expect(newPin(d).id).toBe("pin-2");
    expect(pinsOf(withPin(d, { ...first, label: "Perch" })).map((p) => p.label)).toEqual(["Perch"]);
    const copy = pinActions(d, first).copy();
    expect(pinsOf(copy.document)).toHaveLength(2);
    expect(pinsOf(copy.document)[1]?.at_m.x_m).toBeCloseTo(first.at_m.x_m + 0.05, 9);
    expect(pinsOf(withoutPin(d, first.id))).toEqual([]);
    expect(beadOf(d)).toBe(0.006);
    const thick = withBead(copy.document, 0.01);
    expect(pinsOf(thick).map((p) => p.bead_m)).toEqual([0.01, 0.01]);
    expect(newPin(thick).bead_m).toBe(0.01);
    expect(beadsDiffer(thick)).toBe(false);
    expect(beadsDiffer(withPin(thick, { ...newPin(thick), bead_m: 0.02 }))).toBe(true);
  });

  it("are at most so many", () => {
    const commit = vi.fn();
    const full = {
      ...PLAN,
      pins: Array.from({ length: MOST_PINS }, (_, i) => ({ ...newPin(PLAN), id: `pin-${i}` })),
    };
    addPin(full, undefined, { commit }, vi.fn());
    expect(commit).not.toHaveBeenCalled();
    addPin(PLAN, { x_m: 0.1 }, { commit }, vi.fn());
    expect(commit.mock.calls[0]?.[1]).toBe("Pin 1 added");
  });
});

describe("vents", () => {
  const vents = [
    { side: "left", x_m: 0, z_m: 0.4, width_m: 0.2, height_m: 0.05 },
    { side: "back", x_m: 0.6, z_m: 0.5, width_m: 0.3, height_m: 0.05 },
  ];
  const d = { ...PLAN, enclosure: { ...PLAN.enclosure, vents } } as unknown as PlanDocument;

  it("on a side wall move up and down only", () => {
    expect(ventsOf(moved(d, 0, { x: 0.9, z: 0.2 }))[0]).toMatchObject({ x_m: 0, z_m: 0.2 });
    expect(ventsOf(moved(d, 1, { x: 0.9, z: 0.2 }))[1]).toMatchObject({ x_m: 0.9, z_m: 0.2 });
    expect(ventsOf(moved(d, 1, { x: 0.9, z: 0.2 }))[0]).toEqual(vents[0]);
  });

  it("are copied below and removed", () => {
    const copy = ventActions(d, 1).copy();
    expect(copy.select).toBe(ventKey(2));
    expect(ventsOf(copy.document)[2]?.z_m).toBeCloseTo(0.4, 9);
    expect(copy.summary).toBe("Vent in the back added");
    expect(ventsOf(ventActions(d, 0).remove().document)).toEqual([vents[1]]);
  });
});
