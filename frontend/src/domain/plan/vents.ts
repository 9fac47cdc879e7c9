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

/** A vent moved along its wall. */
export function moved(d: PlanDocument, i: number, to: { x: number; z: number }): PlanDocument {
  return withVents(
    d,
    ventsOf(d).map((v, k) => {
      if (k !== i) return v;
      const side = v.side === "left" || v.side === "right";
      return { ...v, z_m: to.z, ...(side ? {} : { x_m: to.x }) };
    }),
  );
}

export function ventActions(d: PlanDocument, i: number): ItemActions {
  const vent = ventsOf(d)[i];
  const side = vent?.side ?? "front";
  return {
    locked: false,
    copy: () => {
      const twin = { ...(vent as Vent), z_m: Math.max(0, (vent as Vent).z_m - 0.1) };
      return {
        document: withVents(d, [...ventsOf(d), twin]),
        summary: `Vent in the ${side} added`,
        select: ventKey(ventsOf(d).length),
      };
    },
    remove: () => ({
      document: withVents(
        d,
        ventsOf(d).filter((_, k) => k !== i),
      ),
      summary: `Vent in the ${side} removed`,
    }),
  };
}
