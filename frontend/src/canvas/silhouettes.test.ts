import { describe, expect, it } from "vitest";
import { type Outline, pathOf, poseBetween, silhouette } from "./silhouettes";

const GROUPS = ["lizard", "gecko", "tortoise", "turtle", "frog", "salamander", "invertebrate"];
const spread = (outline: Outline, at: number, long: number, high: number) => {
  const pose = poseBetween(outline, at, long, 0, high);
  const path = pathOf(
    outline,
    pose,
    long,
    (x) => 1000 * x,
    (y) => y,
  );
  const found = path.match(/-?\d+\.\d+ -?\d+\.\d+/g)?.map((pair) => Number(pair.split(" ")[0]));
  return { pose, low: Math.min(...(found ?? [])), high: Math.max(...(found ?? [])) };
};

describe("an animal between two walls", () => {
  it("stays inside the glass wherever it basks", () => {
    for (const group of GROUPS) {
      const { side, above } = silhouette(group);
      for (const outline of [side, above]) {
        for (const at of [0, 0.05, 0.2, 0.31, 0.5, 0.6]) {
          const { low, high } = spread(outline, at, 0.3, 0.6);
          expect(low, `${group} at ${at}`).toBeGreaterThanOrEqual(-0.1);
          expect(high, `${group} at ${at}`).toBeLessThanOrEqual(600.1);
        }
      }
    }
  });

  it("turns round for its tail, and bends what has no room either way", () => {
    const { side } = silhouette("lizard");
    expect(spread(side, 0.6, 0.2, 1.2).pose).toEqual({
      vent: expect.closeTo(0.5),
      way: 1,
      tail: 1,
    });
    expect(spread(side, 0.2, 0.2, 1.2).pose).toMatchObject({ way: -1, tail: 1 });
    const bent = spread(side, 0.3, 0.3, 0.6).pose;
    expect(bent.tail).toBeGreaterThan(0.3);
    expect(bent.tail).toBeLessThan(0.6);
    // What has no tail just faces right.
    expect(spread(silhouette("frog").side, 0.1, 0.1, 0.6).pose).toMatchObject({ way: 1, tail: 1 });
  });

  it("is as long and as high as the animal", () => {
    const { pose, high } = spread(silhouette("tortoise").side, 0.5, 0.2, 1.5);
    expect(high / 1000 - pose.vent).toBeCloseTo(1.2 * 0.2, 3);
    for (const group of GROUPS) {
      const heights = silhouette(group).side.flatMap(([, ...p]) => p.filter((_, i) => i % 2 === 1));
      expect(Math.min(...heights.map((h) => Math.abs(h)))).toBeLessThan(0.15);
      expect(Math.max(...heights)).toBeGreaterThanOrEqual(0.95);
    }
  });

  it("is a lizard where its group is not known", () => {
    expect(silhouette(undefined)).toBe(silhouette("lizard"));
    expect(silhouette("dragon")).toBe(silhouette("lizard"));
  });
});
