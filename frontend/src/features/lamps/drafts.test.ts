import { describe, expect, it } from "vitest";
import type { LampDocument } from "../../api/types";
import { asKind, blankLamp, copyOf } from "./drafts";
import { KINDS } from "./library";

describe("drafts of lamps", () => {
  it("get an id of the keeper's own each time", () => {
    const [a, b] = [blankLamp(), blankLamp()];
    expect(a.id).toMatch(/^own-[0-9a-f]{8}$/);
    expect(a.id).not.toBe(b.id);
  });

  it("copy everything but id, name and source", () => {
    const lamp = { ...blankLamp(), label: "x".repeat(80) };
    const copy = copyOf(lamp);
    expect(copy).toEqual({ ...lamp, id: copy.id, label: copy.label, source: copy.source });
    expect(copy.label).toHaveLength(80);
    expect(copy.source).toBe(`copied from ${lamp.label}`);
  });

  it.each(KINDS.map((k) => k.value as LampDocument["kind"]))(
    "as a %s share out no more than their power",
    (kind) => {
      const lamp = asKind(blankLamp(), kind);
      const shares = lamp.forward_radiant + lamp.other_radiant + (lamp.conducted ?? 0);
      expect(lamp.kind).toBe(kind);
      expect(shares).toBeGreaterThan(0);
      expect(shares).toBeLessThanOrEqual(1);
    },
  );

  it("give no UV as bulb, heater or mat, and theirs again as a tube", () => {
    for (const kind of ["bulb", "heater", "mat"] as const) {
      const lamp = asKind(blankLamp(), kind);
      expect([lamp.uv, lamp.ageing]).toEqual([null, null]);
      expect(asKind(lamp, "tube").uv).toEqual(blankLamp().uv);
    }
    const strong = { ...blankLamp(), uv: { uvi: 9, distance_m: 0.2 } };
    expect(asKind(strong, "compact").uv).toEqual(strong.uv);
  });
});
