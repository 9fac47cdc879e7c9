/** Colours of the scene, near those of the drawings. */
import type { Furnishing, Lamp } from "../../api/types";
import { isStone } from "../materials";

export interface Palette {
  readonly wall: string;
  readonly edge: string;
  readonly stone: string;
  readonly wood: string;
  readonly leaf: string;
  readonly water: string;
  readonly selected: string;
  readonly animal: string;
  readonly metal: string;
  readonly background: string;
}

export const LIGHT: Palette = {
  wall: "#dfd3bd",
  edge: "#6f8079",
  stone: "#7b858a",
  wood: "#7a5a3c",
  leaf: "#4f8a5b",
  water: "#7fb2c9",
  selected: "#15705a",
  animal: "#2c3a36",
  metal: "#d9dedb",
  background: "#eef1ec",
};
export const DARK: Palette = { ...LIGHT, wall: "#6d6455", edge: "#9db0a8", background: "#151d1c" };

export function furnishingColour(item: Furnishing, palette: Palette): string {
  if (item.type === "water") return palette.water;
  if (item.type === "leaves") return palette.leaf;
  if (item.type === "branch" || item.type === "background") return palette.wood;
  return isStone(item.material_id) ? palette.stone : palette.wood;
}

/** What a lamp looks like while it is lit; dark heat glows dull. */
export const glow = (lamp: Lamp): string =>
  lamp.gives_light ? (lamp.uvi_at_reference ? "#c9b6ef" : "#ffd48a") : "#c96a4a";
