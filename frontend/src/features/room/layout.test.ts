import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { RoomLayout } from "../../api/types";
import {
  newRack,
  onRack,
  placeOf,
  stepped,
  tidied,
  type Way,
  without,
  withoutRack,
} from "./layout";

const LAYOUT: RoomLayout = {
  format: "noonshade-room",
  version: 2,
  racks: [
    { id: "a", label: "A", shelves: [["frog", "gecko"], ["snake"]] },
    { id: "b", label: "B", shelves: [[]] },
  ],
};
const all = (layout: RoomLayout) => layout.racks.flatMap((r) => r.shelves.flat()).sort();

describe("racks", () => {
  it("hold an enclosure in one place", () => {
    const moved = onRack(LAYOUT, "frog", "b");
    expect(placeOf(moved, "frog")).toEqual([1, 0, 0]);
    expect(all(moved)).toEqual(all(LAYOUT));
    expect(placeOf(without(moved, "frog"), "frog")).toBeNull();
  });

  it("let it step as far as there is somewhere to go", () => {
    expect(stepped(LAYOUT, "frog", "left")).toBeNull();
    expect(placeOf(stepped(LAYOUT, "frog", "right") as RoomLayout, "frog")).toEqual([0, 0, 1]);
    expect(placeOf(stepped(LAYOUT, "gecko", "up") as RoomLayout, "gecko")).toEqual([0, 1, 1]);
    expect(stepped(LAYOUT, "snake", "up")).toBeNull();
    expect(stepped(LAYOUT, "frog", "down")).toBeNull();
    expect(stepped(LAYOUT, "nobody", "up")).toBeNull();
  });

  it("lose none and double none, whatever is done", () => {
    const moves = fc.array(
      fc.tuple(
        fc.constantFrom("frog", "gecko", "snake"),
        fc.constantFrom<Way>("up", "down", "left", "right"),
      ),
    );
    fc.assert(
      fc.property(moves, (steps) => {
        let layout = LAYOUT;
        for (const [who, way] of steps) layout = stepped(layout, who, way) ?? layout;
        expect(all(layout)).toEqual(all(LAYOUT));
      }),
    );
  });

  it("are tidied of what is gone and of empty shelves", () => {
    const tidy = tidied(LAYOUT, new Set(["snake"]));
    expect(tidy.racks.map((r) => r.shelves)).toEqual([[["snake"]], [[]]]);
  });

  it("have distinct ids", () => {
    const more = newRack(newRack(withoutRack(LAYOUT, "a")));
    const ids = more.racks.map((r) => r.id);
    expect(new Set(ids).size).toBe(ids.length);
  });
});
