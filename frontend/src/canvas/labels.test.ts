import { describe, expect, it } from "vitest";
import { type Box, type Label, nearest, placed, shared } from "./labels";

const BOUNDS: Box = { x: 0, y: 0, width: 400, height: 300 };
const label = (id: string, x: number, y: number, width = 80, height = 16): Label => ({
  id,
  wanted: [x + 6, y - height / 2],
  width,
  height,
});

describe("labels", () => {
  it("stay where they are wanted while there is room", () => {
    const found = placed([label("a", 50, 50), label("b", 50, 90)], BOUNDS);
    expect(found.get("a")).toMatchObject({ x: 56, y: 42, led: false });
    expect(found.get("b")).toMatchObject({ x: 56, y: 82, led: false });
  });

  it("never lie on one another, whatever is at the same place", () => {
    const many = Array.from({ length: 9 }, (_, i) => label(`${i}`, 200 + i, 150 - i));
    const boxes = [...placed(many, BOUNDS).values()];
    expect(boxes).toHaveLength(9);
    boxes.forEach((a, i) => {
      for (const b of boxes.slice(i + 1)) expect(shared(a, b, 0)).toBe(0);
    });
    // The first has its place; a line leads to those that are far away.
    expect(boxes[0]).toMatchObject({ x: 206, y: 142, led: false });
    expect(boxes.at(-1)?.led).toBe(true);
  });

  it("keep off what is taken and inside the bounds", () => {
    const taken = { x: 40, y: 30, width: 120, height: 40 };
    const a = placed([label("a", 50, 50)], BOUNDS, [taken]).get("a") as Box;
    expect(shared(a, taken, 0)).toBe(0);
    const edge = placed([label("a", 390, 298)], BOUNDS).get("a") as Box;
    expect(edge.x + edge.width).toBeLessThanOrEqual(400);
    expect(edge.y + edge.height).toBeLessThanOrEqual(300);
  });

  it("hide least where there is no room at all", () => {
    const small: Box = { x: 0, y: 0, width: 90, height: 20 };
    const found = placed([label("a", 5, 8), label("b", 5, 8)], small);
    expect(found.size).toBe(2);
  });

  it("are led to by the shortest line", () => {
    expect(nearest({ x: 10, y: 10, width: 20, height: 10 }, [0, 15])).toEqual([10, 15]);
    expect(nearest({ x: 10, y: 10, width: 20, height: 10 }, [15, 40])).toEqual([15, 20]);
  });
});
