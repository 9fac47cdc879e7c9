import { expect, test } from "vitest";
import type { Catalog, Evaluation, PlanDocument } from "../api/types";
import type { Field } from "./fields";
import { firstLayer, nothingIn } from "./firstLayer";

const catalog = {
  lamps: [
    { id: "tube", uvi_at_reference: 3 },
    { id: "bulb", uvi_at_reference: null },
  ],
} as unknown as Catalog;
const withLamp = (lamp: string) => ({ fixtures: [{ lamp_id: lamp }] }) as unknown as PlanDocument;
const checks = (...given: [string, string][]) =>
  ({
    checks: given.map(([quantity, severity]) => ({ severity, need: { quantity } })),
  }) as unknown as Evaluation;

test("a plan opens with what fails worst", () => {
  const failing = checks(["humidity", "fault"], ["surface_temperature", "danger"], ["uvi", "none"]);
  expect(firstLayer(failing, withLamp("tube"), catalog)).toBe("surface");
  expect(firstLayer(checks(["gradient", "fault"]), withLamp("tube"), catalog)).toBe("air");
});

test("where all fits it opens with UV if there is any", () => {
  expect(firstLayer(checks(["uvi", "none"]), withLamp("tube"), catalog)).toBe("uvi");
  expect(firstLayer(null, withLamp("bulb"), catalog)).toBe("air");
});

test("UV that fails because nothing gives any is no picture to open with", () => {
  const failing = checks(["uvi", "fault"], ["humidity", "fault"]);
  expect(firstLayer(failing, withLamp("bulb"), catalog)).toBe("humidity");
  expect(firstLayer(checks(["uvi", "fault"]), withLamp("bulb"), catalog)).toBe("air");
});

test("a layer without anything to show says so; temperatures always have", () => {
  const field = (name: string, ...values: number[]) =>
    ({ name, values: Float32Array.from(values) }) as Field;
  expect(nothingIn(field("uvi", 0, 0.001))).toMatch(/No UV here/);
  expect(nothingIn(field("uvi", 0, 0.2))).toBeNull();
  expect(nothingIn(field("light", 0, 0))).toMatch(/No light here/);
  expect(nothingIn(field("air", 0, 0))).toBeNull();
});
