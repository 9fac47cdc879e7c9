import { expect, test } from "vitest";
import type { PlanDocument } from "../api/types";
import { onlyLampsDiffer } from "./live";

const plan = { name: "a", room: { day_c: 21 }, fixtures: [1] } as unknown as PlanDocument;

test("only lamps differ where nothing else was replaced", () => {
  const moved = { ...plan, fixtures: [] } as PlanDocument;
  expect(onlyLampsDiffer(moved, plan)).toBe(true);
  expect(onlyLampsDiffer({ ...moved, room: { ...plan.room } } as PlanDocument, plan)).toBe(false);
  expect(onlyLampsDiffer({ ...moved, pins: [] } as PlanDocument, plan)).toBe(false);
});
