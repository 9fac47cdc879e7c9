/** Vents as things in the drawing. */
import type { PlanDocument } from "../../api/types";
import type { ItemActions } from "./itemActions";

export const ventsOf = (d: PlanDocument) => d.enclosure.vents ?? [];
export const ventKey = (i: number) => `vent:${i}`;

type Vent = ReturnType<typeof ventsOf>[number];

const withVents = (d: PlanDocument, vents: Vent[]): PlanDocument => ({
  ...d,
  enclosure: { ...d.enclosure, vents },
});

/** How a vent is called. */
export const ventName = (v: Vent) =>
  `${(v.holes ?? 1) > 1 ? "Holes" : "Vent"} in the ${v.side === "top" ? "lid" : v.side}`;

/** How wide and high it is drawn, m: as a square of its area, as the air in it is computed. */
export const ventSize = (v: Vent) => Math.max(0.012, Math.sqrt(v.area_m2));

/** Where a vent is, seen from the front. */
export function ventAt(d: PlanDocument, v: Vent): { x: number; z: number } {
  if (v.side === "top") return { x: v.x_m, z: d.enclosure.height_m };
  const x = v.side === "left" ? 0 : v.side === "right" ? d.enclosure.length_m : v.x_m;
  return { x, z: v.z_m };
}

/** A vent moved along its wall or along the lid. */
export function moved(d: PlanDocument, i: number, to: { x: number; z: number }): PlanDocument {
  return withVents(
    d,
    ventsOf(d).map((v, k) => {
      if (k !== i) return v;
      const side = v.side === "left" || v.side === "right";
      return { ...v, ...(v.side === "top" ? {} : { z_m: to.z }), ...(side ? {} : { x_m: to.x }) };
    }),
  );
}

export function ventActions(d: PlanDocument, i: number): ItemActions {
  const vent = ventsOf(d)[i];
  const name = vent ? ventName(vent) : "Vent";
  return {
    locked: false,
    copy: () => {
      const beside = vent?.side === "top" ? "x_m" : "z_m";
      const twin = { ...(vent as Vent), [beside]: Math.max(0, (vent as Vent)[beside] - 0.1) };
      return {
        document: withVents(d, [...ventsOf(d), twin]),
        summary: `${name} added`,
        select: ventKey(ventsOf(d).length),
      };
    },
    remove: () => ({
      document: withVents(
        d,
        ventsOf(d).filter((_, k) => k !== i),
      ),
      summary: `${name} removed`,
    }),
  };
}
