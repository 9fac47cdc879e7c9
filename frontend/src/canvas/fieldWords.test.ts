import { describe, expect, it } from "vitest";
import { PLAN } from "../domain/plan/plan.fixture";
import type { Field } from "./fields";
import { fieldWords } from "./fieldWords";

const field = (values: number[]): Field => ({
  name: "uvi",
  nx: 3,
  nz: 2,
  values: Float32Array.from(values),
  x0: 0,
  x1: 1.2,
  z0: 0,
  z1: 0.6,
});
const one = (value: number) => value.toFixed(1);

describe("a field in words", () => {
  it("says where it is lowest and highest", () => {
    expect(fieldWords(field([0.5, 1, 0, 4.5, 2, 1]), { ...PLAN, fixtures: [] }, "front", one)).toBe(
      "UV index rises from 0.0 on the right, low down to 4.5 on the left, high up.",
    );
  });

  it("names the lamp it is highest at, and says when it is the same everywhere", () => {
    const lamp = PLAN.fixtures?.[0];
    if (!lamp) throw new Error("the fixture has a lamp");
    const near = {
      ...PLAN,
      fixtures: [{ ...lamp, position_m: { x_m: 0.1, y_m: 0.3, z_m: 0.55 } }],
    };
    expect(fieldWords(field([0, 1, 0, 4.5, 2, 1]), near, "front", one)).toContain(
      `near ${lamp.label}`,
    );
    expect(fieldWords(field([2, 2, 2, 2, 2, 2]), PLAN, "above", one)).toBe(
      "UV index: 2.0 everywhere in this view.",
    );
  });
});
