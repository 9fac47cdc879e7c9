import { describe, expect, it } from "vitest";
import { airRange, contourLines, type Field, readAt, scaleOf, unpacked } from "./fields";

const plane: Field = {
  name: "uvi",
  nx: 3,
  nz: 3,
  values: Float32Array.from([0, 1, 2, 1, 2, 3, 2, 3, 4]),
  x0: 0,
  x1: 1,
  z0: 0,
  z1: 0.5,
};

describe("fields", () => {
  it("are unpacked from codes of 16 bits", () => {
    const data = btoa(String.fromCharCode(0, 0, 1, 0, 255, 255));
    const values = unpacked({ offset: 10, scale: 0.5, data });
    expect([...values]).toEqual([10, 10.5, 10 + 0.5 * 65535]);
  });

  it("are read between samples, and not outside", () => {
    expect(readAt(plane, 0.25, 0.125)).toBeCloseTo(1, 6);
    expect(readAt(plane, 1, 0.5)).toBeCloseTo(4, 6);
    expect(readAt(plane, 1.01, 0.2)).toBeNull();
  });

  it("have contour lines where the value is reached", () => {
    const [line] = contourLines(plane, [2]);
    expect(line?.level).toBe(2);
    for (const [x, z] of line?.rings.flat() ?? []) {
      const inside = x > 0 && x < 1 && z > 0 && z < 0.5;
      if (inside) expect(readAt(plane, x, z)).toBeCloseTo(2, 4);
    }
  });

  it("have one range of temperatures while a lamp is moved, in whole fives", () => {
    expect(airRange([22, 31.2], 21)).toEqual({ low: 20, high: 35 });
    expect(airRange([], 21)).toEqual({ low: 20, high: 30 });
  });

  it("are coloured by the square root where light falls off", () => {
    const scale = scaleOf("uvi", { low: 20, high: 30 });
    expect(scale.share(scale.high / 4)).toBeCloseTo(0.5, 9);
    expect(scale.share(-1)).toBe(0);
    const air = scaleOf("air", { low: 20, high: 30 });
    expect(air.share(25)).toBeCloseTo(0.5, 9);
    expect(air.levels[0]).toBe(21);
  });
});
