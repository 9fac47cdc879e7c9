/** Places of the keeper's own, whose figures stay on the drawing. */
import type { Pin, PlanDocument } from "../../api/types";
import { furnishingsOf } from "./document";
import type { ItemActions } from "./itemActions";
import { clamp, tidy } from "./lengths";

export const MOST_PINS = 20;
/** As the document has it where it says nothing, m. */
const BEAD_M = 0.006;
export const pinsOf = (d: PlanDocument): readonly Pin[] => d.pins ?? [];
export const pinKey = (id: string) => `pin:${id}`;

/** A new pin at a point; without one, above the middle of the enclosure. */
export function newPin(d: PlanDocument, at?: Partial<Pin["at_m"]>): Pin {
  const taken = new Set(pinsOf(d).map((p) => p.id));
  let number = 1;
  while (taken.has(`pin-${number}`)) number++;
  const basking = furnishingsOf(d).find((f) => f.type === "slab" && f.basking);
  const middle = {
    x_m: d.enclosure.length_m / 2,
    y_m: basking && "y_m" in basking ? basking.y_m : d.enclosure.depth_m / 2,
    z_m: d.substrate.depth_m + (d.enclosure.height_m - d.substrate.depth_m) / 3,
  };
  return {
    id: `pin-${number}`,
    label: `Pin ${number}`,
    at_m: inEnclosure(d, { ...middle, ...at }),
    bead_m: beadOf(d),
  };
}

/** A point moved into the enclosure; it may be in the ground. */
export function inEnclosure(d: PlanDocument, at: Pin["at_m"]): Pin["at_m"] {
  return {
    x_m: tidy(clamp(at.x_m, 0, d.enclosure.length_m)),
    y_m: tidy(clamp(at.y_m, 0, d.enclosure.depth_m)),
    z_m: tidy(clamp(at.z_m, 0, d.enclosure.height_m)),
  };
}

export function withPin(d: PlanDocument, pin: Pin): PlanDocument {
  const known = pinsOf(d).some((p) => p.id === pin.id);
  return {
    ...d,
    pins: known ? pinsOf(d).map((p) => (p.id === pin.id ? pin : p)) : [...pinsOf(d), pin],
  };
}

/** Diameter of the probe at all pins, m. */
export const beadOf = (d: PlanDocument): number => pinsOf(d)[0]?.bead_m ?? BEAD_M;
/** Whether places of a plan that came from elsewhere have different probes. */
export const beadsDiffer = (d: PlanDocument): boolean =>
  new Set(pinsOf(d).map((pin) => pin.bead_m ?? BEAD_M)).size > 1;
export const withBead = (d: PlanDocument, bead_m: number): PlanDocument => ({
  ...d,
  pins: pinsOf(d).map((pin) => ({ ...pin, bead_m })),
});

export const withoutPin = (d: PlanDocument, id: string): PlanDocument => ({
  ...d,
  pins: pinsOf(d).filter((p) => p.id !== id),
});

export function pinActions(d: PlanDocument, pin: Pin): ItemActions {
  return {
    locked: false,
    copy: () => {
      const twin = newPin(d, { ...pin.at_m, x_m: pin.at_m.x_m + 0.05 });
      return {
        document: withPin(d, twin),
        summary: `${twin.label} added`,
        select: pinKey(twin.id),
      };
    },
    remove: () => ({ document: withoutPin(d, pin.id), summary: `${pin.label} removed` }),
  };
}

/** Pin a place and select it, where there is room for one more. */
export function addPin(
  d: PlanDocument,
  at: Partial<Pin["at_m"]> | undefined,
  edits: { commit: (document: PlanDocument, summary: string) => void },
  onSelect: (key: string) => void,
) {
  if (pinsOf(d).length >= MOST_PINS) return;
  const pin = newPin(d, at);
  edits.commit(withPin(d, pin), `${pin.label} added`);
  onSelect(pinKey(pin.id));
}
