import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { projection } from "./projection";
import { panned, WHOLE, type Zoom, zoomed, zoomedAt } from "./zoom";

const BASE = projection({ length_m: 1.2, height_m: 0.6 }, 0.1, 800, 500);
const px = fc.integer({ min: 0, max: 800 });
const py = fc.integer({ min: 0, max: 400 });
const by = fc.double({ min: 0.2, max: 5, noNaN: true });

const inView = ({ factor, x, y }: Zoom) =>
  x >= 0 &&
  y >= 0 &&
  x + BASE.width / factor <= BASE.width + 1e-6 &&
  y + BASE.height / factor <= BASE.height + 1e-6;

describe("a part of the drawing, enlarged", () => {
  it("goes there and back through the projection", () => {
    fc.assert(
      fc.property(px, py, by, (x, y, more) => {
        const p = zoomed(BASE, zoomedAt(WHOLE, more, x, y, BASE));
        expect(p.toX(p.x(0.37))).toBeCloseTo(0.37, 9);
        expect(p.toZ(p.y(0.21))).toBeCloseTo(0.21, 9);
      }),
    );
  });

  it("keeps what is under the pointer, and never shows what lies beyond the edges", () => {
    fc.assert(
      fc.property(px, py, by, by, (x, y, first, second) => {
        const one = zoomedAt(WHOLE, Math.max(1, first), x, y, BASE);
        const two = zoomedAt(one, Math.max(1, second), x, y, BASE);
        expect(inView(one) && inView(two)).toBe(true);
        expect(zoomed(BASE, two).toX(x)).toBeCloseTo(zoomed(BASE, one).toX(x), 9);
      }),
    );
  });

  it("is panned with the hand and comes back to the whole", () => {
    const near = zoomedAt(WHOLE, 2, 400, 200, BASE);
    expect(panned(near, 50, 0, BASE).x).toBeCloseTo(near.x - 25);
    expect(panned(near, 1e6, 1e6, BASE)).toMatchObject({ x: 0, y: 0 });
    expect(zoomedAt(near, 0.01, 10, 10, BASE)).toEqual(WHOLE);
  });
});
