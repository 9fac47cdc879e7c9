/** Pure edits of what stands in the enclosure: adding, moving, turning and sizing it within the walls. */
import type { Furnishing, Hide, PlanDocument } from "../../api/types";
import { extentOf, fixturesOf, furnishingsOf, thermostatsOf } from "./document";
import { clamp, tidy } from "./lengths";

export type FurnishingKind =
  | "slab"
  | "branch"
  | "hide"
  | "moist-hide"
  | "leaves"
  | "water"
  | "back";

/** What can be added, in the order an enclosure is furnished. */
export const KINDS: readonly { kind: FurnishingKind; label: string; says: string }[] = [
  {
    kind: "slab",
    label: "Slab or ledge",
    says: "Flat stone, tile or shelf, on the ground or above",
  },
  { kind: "branch", label: "Branch", says: "Straight and round, between two points" },
  { kind: "hide", label: "Hide", says: "Hollow, with one opening" },
  { kind: "moist-hide", label: "Moist hide", says: "The same, damp inside" },
  { kind: "leaves", label: "Leaves", says: "Plants or netting that let some light through" },
  { kind: "water", label: "Water", says: "Dish or pool" },
  { kind: "back", label: "Background", says: "A panel that lines one side" },
];

/** A place on both drawings: from the left, from the front, above the enclosure floor, m. */
export interface Place {
  readonly x: number;
  readonly y: number;
  readonly z: number;
}

const LEAST_SIZE_M = 0.01;
const LEAST_BRANCH_M = 0.06;
const COPY_OFFSET_M = 0.05;

/** How a selected furnishing is called among all that can be selected. */
export const furnishingKey = (id: string) => `furnishing:${id}`;

export function withFurnishing(d: PlanDocument, changed: Furnishing): PlanDocument {
  return {
    ...d,
    furnishings: furnishingsOf(d).map((f) => (f.id === changed.id ? changed : f)),
  };
}

export function withoutFurnishing(d: PlanDocument, id: string): PlanDocument {
  return { ...d, furnishings: furnishingsOf(d).filter((f) => f.id !== id) };
}

/** Whether it has a separate place; a background lines a whole side. */
export function isPlaced(item: Furnishing): boolean {
  return item.type !== "background";
}

/** The point it is moved by: its middle, and where it stands. */
export function placeOf(d: PlanDocument, item: Furnishing): Place {
  if (item.type === "branch") {
    const { start_m: a, end_m: b } = item;
    return { x: (a.x_m + b.x_m) / 2, y: (a.y_m + b.y_m) / 2, z: (a.z_m + b.z_m) / 2 };
  }
  const e = extentOf(d, item);
  return { x: (e.x0 + e.x1) / 2, y: (e.y0 + e.y1) / 2, z: e.z0 };
}

/** The same furnishing with its middle as near to a place as the enclosure allows. */
export function movedTo(d: PlanDocument, item: Furnishing, to: Place): Furnishing {
  const { length_m: length, depth_m: depth, height_m: height } = d.enclosure;
  const ground = d.substrate.depth_m;
  if (item.type === "background") return item;
  if (item.type === "branch") {
    const { start_m: a, end_m: b } = item;
    const from = placeOf(d, item);
    const way = (by: number, one: number, other: number, low: number, high: number) =>
      clamp(by, low - Math.min(one, other), high - Math.max(one, other));
    const x = way(to.x - from.x, a.x_m, b.x_m, 0, length);
    const y = way(to.y - from.y, a.y_m, b.y_m, 0, depth);
    const z = way(to.z - from.z, a.z_m, b.z_m, ground, height);
    const shift = (p: typeof a) => ({
      x_m: tidy(p.x_m + x),
      y_m: tidy(p.y_m + y),
      z_m: tidy(p.z_m + z),
    });
    return { ...item, start_m: shift(a), end_m: shift(b) };
  }
  const placed = {
    x_m: tidy(clamp(to.x, item.length_m / 2, Math.max(length - item.length_m / 2, 0))),
    y_m: tidy(clamp(to.y, item.width_m / 2, Math.max(depth - item.width_m / 2, 0))),
  };
  if (item.type === "hide" || item.type === "water") return { ...item, ...placed };
  const tall = item.type === "slab" ? item.thickness_m : item.height_m;
  const underside_m = tidy(clamp(to.z - ground, 0, Math.max(0, height - ground - tall)));
  return { ...item, ...placed, underside_m };
}

/** What must follow when sizes change: a pile no larger than its slab, an opening no larger than its side. */
export function fitted(item: Furnishing): Furnishing {
  if (item.type === "slab" && item.stack) {
    const length_m = Math.min(item.stack.length_m, item.length_m);
    const width_m = Math.min(item.stack.width_m, item.width_m);
    return { ...item, stack: { length_m, width_m } };
  }
  if (item.type !== "hide") return item;
  const side = item.opening === "left" || item.opening === "right" ? item.width_m : item.length_m;
  const wall_m = tidy(
    Math.max(
      0.002,
      Math.min(item.wall_m, 0.45 * Math.min(item.length_m, item.width_m, item.height_m)),
    ),
  );
  return {
    ...item,
    wall_m,
    opening_width_m: Math.min(item.opening_width_m, side),
    opening_height_m: tidy(Math.min(item.opening_height_m, item.height_m - wall_m)),
  };
}

const NEXT_SIDE: Record<Hide["opening"], Hide["opening"]> = {
  front: "right",
  right: "back",
  back: "left",
  left: "front",
};

/** Turned by a quarter, anticlockwise from above, kept inside the enclosure. */
export function turned(d: PlanDocument, item: Furnishing): Furnishing {
  const { length_m: length, depth_m: depth } = d.enclosure;
  if (item.type === "background") return { ...item, side: NEXT_SIDE[item.side] };
  const from = placeOf(d, item);
  if (item.type === "branch") {
    const { start_m: a, end_m: b } = item;
    const wide = Math.abs(a.y_m - b.y_m);
    const deep = Math.abs(a.x_m - b.x_m);
    const share = Math.min(1, length / Math.max(wide, 1e-9), depth / Math.max(deep, 1e-9));
    const about = (p: typeof a) => ({
      x_m: from.x - share * (p.y_m - from.y),
      y_m: from.y + share * (p.x_m - from.x),
      z_m: p.z_m,
    });
    return movedTo(d, { ...item, start_m: about(a), end_m: about(b) }, from);
  }
  const length_m = Math.min(item.width_m, length);
  const width_m = Math.min(item.length_m, depth);
  let changed: Furnishing = { ...item, length_m, width_m };
  if (changed.type === "hide") changed = { ...changed, opening: NEXT_SIDE[changed.opening] };
  if (changed.type === "slab" && changed.stack) {
    const { length_m: l, width_m: w } = changed.stack;
    changed = { ...changed, stack: { length_m: w, width_m: l } };
  }
  return movedTo(d, fitted(changed), from);
}

/** A point by which a selected furnishing is stretched. */
export interface Handle {
  readonly name: string;
  readonly at: Place;
  /** The furnishing when the handle is brought to a place; axes a drawing does not show stay. */
  readonly to: (place: Place) => Furnishing;
}

/** Where a furnishing is stretched: its ends, its back and front, its top. */
export function handlesOf(d: PlanDocument, item: Furnishing): Handle[] {
  if (item.type === "background") return [];
  const { length_m: length, depth_m: depth, height_m: height } = d.enclosure;
  const ground = d.substrate.depth_m;
  if (item.type === "branch") {
    const end = (key: "start_m" | "end_m", other: "start_m" | "end_m", name: string): Handle => {
      const p = item[key];
      const q = item[other];
      return {
        name,
        at: { x: p.x_m, y: p.y_m, z: p.z_m },
        to: ({ x, y, z }) => {
          const put = {
            x_m: tidy(clamp(x, 0, length)),
            y_m: tidy(clamp(y, 0, depth)),
            z_m: tidy(clamp(z, ground, height)),
          };
          const long = Math.hypot(put.x_m - q.x_m, put.y_m - q.y_m, put.z_m - q.z_m);
          return long < LEAST_BRANCH_M ? item : { ...item, [key]: put };
        },
      };
    };
    return [end("start_m", "end_m", "One end"), end("end_m", "start_m", "Other end")];
  }
  const e = extentOf(d, item);
  const middle = { x: (e.x0 + e.x1) / 2, y: (e.y0 + e.y1) / 2, z: (e.z0 + e.z1) / 2 };
  const across = (x0: number, x1: number) =>
    fitted({ ...item, x_m: tidy((x0 + x1) / 2), length_m: tidy(x1 - x0) });
  const along = (y0: number, y1: number) =>
    fitted({ ...item, y_m: tidy((y0 + y1) / 2), width_m: tidy(y1 - y0) });
  return [
    {
      name: "Left edge",
      at: { ...middle, x: e.x0 },
      to: ({ x }) => across(clamp(x, 0, e.x1 - LEAST_SIZE_M), e.x1),
    },
    {
      name: "Right edge",
      at: { ...middle, x: e.x1 },
      to: ({ x }) => across(e.x0, clamp(x, e.x0 + LEAST_SIZE_M, length)),
    },
    {
      name: "Front edge",
      at: { ...middle, y: e.y0 },
      to: ({ y }) => along(clamp(y, 0, e.y1 - LEAST_SIZE_M), e.y1),
    },
    {
      name: "Back edge",
      at: { ...middle, y: e.y1 },
      to: ({ y }) => along(e.y0, clamp(y, e.y0 + LEAST_SIZE_M, depth)),
    },
    {
      name: "Top",
      // Beside the middle, by which a thin thing is taken hold of.
      at: { ...middle, x: e.x0 + 0.8 * (e.x1 - e.x0), z: e.z1 },
      to: ({ z }) => {
        const most = height - e.z0;
        if (item.type === "slab") {
          return { ...item, thickness_m: tidy(clamp(z - e.z0, 0.003, Math.min(0.3, most))) };
        }
        if (item.type === "water") {
          return { ...item, depth_m: tidy(clamp(z - e.z0, 0.002, Math.min(1, most))) };
        }
        return fitted({ ...item, height_m: tidy(clamp(z - e.z0, 0.02, most)) });
      },
    },
  ];
}

/** An id nothing else in the plan has, and its number. */
export function freshId(d: PlanDocument, stem: string): [string, number] {
  const taken = new Set(
    [...furnishingsOf(d), ...fixturesOf(d), ...thermostatsOf(d)].map((thing) => thing.id),
  );
  let number = 1;
  while (taken.has(`${stem}-${number}`)) number++;
  return [`${stem}-${number}`, number];
}

/** A furnishing to start from, sized for the enclosure, in the middle of it. */
export function newFurnishing(d: PlanDocument, kind: FurnishingKind): Furnishing {
  const { length_m: length, depth_m: depth, height_m: height } = d.enclosure;
  const ground = d.substrate.depth_m;
  const clear = height - ground;
  const [id, number] = freshId(d, kind);
  const name = KINDS.find((k) => k.kind === kind)?.label.split(" or ")[0] ?? "Thing";
  const label = number > 1 ? `${name} ${number}` : name;
  const body = d.animal.body_length_m;
  const at = { x_m: tidy(length / 2), y_m: tidy(depth / 2) };
  const size = (want: number, room: number) => tidy(Math.min(want, room));
  switch (kind) {
    case "slab":
      return {
        type: "slab",
        id,
        label,
        ...at,
        length_m: size(Math.max(0.2, 1.5 * body), 0.6 * length),
        width_m: size(Math.max(0.15, body), 0.6 * depth),
        thickness_m: 0.02,
        underside_m: tidy(Math.min(0.1, 0.3 * clear)),
        material_id: "slate",
        basking: !furnishingsOf(d).some((f) => f.type === "slab" && f.basking),
        stack: null,
        locked: false,
      };
    case "branch":
      return {
        type: "branch",
        id,
        label,
        start_m: { x_m: tidy(0.25 * length), y_m: at.y_m, z_m: tidy(ground + 0.15 * clear) },
        end_m: { x_m: tidy(0.75 * length), y_m: at.y_m, z_m: tidy(ground + 0.55 * clear) },
        diameter_m: 0.03,
        material_id: "timber",
        locked: false,
      };
    case "hide":
    case "moist-hide": {
      const long = size(Math.max(0.15, 1.4 * body), 0.4 * length);
      const wide = size(Math.max(0.12, body), 0.6 * depth);
      const tall = size(Math.max(0.07, 3 * d.animal.back_height_m), 0.5 * clear);
      return fitted({
        type: "hide",
        id,
        label,
        ...at,
        length_m: long,
        width_m: wide,
        height_m: tall,
        wall_m: 0.01,
        opening: "front",
        opening_width_m: tidy(0.5 * long),
        opening_height_m: tidy(0.7 * tall),
        material_id: "cork",
        moist: kind === "moist-hide",
        locked: false,
      });
    }
    case "leaves":
      return {
        type: "leaves",
        id,
        label,
        ...at,
        length_m: size(0.3, 0.4 * length),
        width_m: size(0.25, 0.6 * depth),
        height_m: size(0.15, 0.4 * clear),
        underside_m: tidy(0.4 * clear),
        porosity: 0.4,
        material_id: "foliage",
        locked: false,
      };
    case "water":
      return {
        type: "water",
        id,
        label,
        ...at,
        length_m: size(0.2, 0.4 * length),
        width_m: size(0.15, 0.6 * depth),
        depth_m: size(0.04, 0.3 * clear),
        material_id: "clay-tile",
        locked: false,
      };
    case "back":
      return {
        type: "background",
        id,
        label,
        side: "back",
        thickness_m: size(0.03, 0.2 * depth),
        material_id: "cork",
        locked: false,
      };
  }
}

/** Another of the same, a little to the right, where it is free to be moved. */
export function copied(d: PlanDocument, item: Furnishing): Furnishing {
  const [id, number] = freshId(d, item.id.replace(/-\d+$/, ""));
  const stem = item.label.replace(/ \d+$/, "");
  const twin = { ...item, id, label: `${stem} ${Math.max(2, number)}`.slice(0, 80), locked: false };
  const apart = twin.type === "slab" ? { ...twin, basking: false } : twin;
  const from = placeOf(d, item);
  const right = movedTo(d, apart, { ...from, x: from.x + COPY_OFFSET_M });
  if (placeOf(d, right).x > from.x + 1e-6) return right;
  return movedTo(d, apart, { ...from, x: from.x - COPY_OFFSET_M });
}

/** With a slab marked as a basking spot, or no longer: an animal may choose among several. */
export function withBasking(d: PlanDocument, id: string, on: boolean): PlanDocument {
  return {
    ...d,
    furnishings: furnishingsOf(d).map((f) =>
      f.type === "slab" && f.id === id ? { ...f, basking: on } : f,
    ),
  };
}
