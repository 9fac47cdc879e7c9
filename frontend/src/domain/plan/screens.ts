/** Meshes and panes to put under a lamp, with the share of UV each passes straight through. */
import type { Catalog } from "../../api/types";
import { fixed } from "../units/units";

export interface ScreenOption {
  value: string;
  label: string;
  group: string;
  passes: number;
}

/** A mesh with what decides how much light passes it: its open area, how it is made, and how its wires look. */
export function meshLabel(mesh: Catalog["meshes"][number]): string {
  const made = mesh.woven ? "woven" : "welded";
  return `${mesh.label} (${fixed(100 * mesh.open_fraction, 0)} % open, ${made}, ${mesh.finish})`;
}

export function screenOptions(catalog: Catalog): ScreenOption[] {
  const percent = (share: number) => fixed(100 * share, 0);
  return [
    ...catalog.meshes.map((m) => ({
      value: m.id,
      label: meshLabel(m),
      group: "Mesh",
      passes: m.open_fraction,
    })),
    ...catalog.materials
      .filter((m) => m.pane)
      .map((m) => ({
        value: m.id,
        label: `${m.label} (${percent(m.uvb_transmittance)} % of UVB)`,
        group: "Pane",
        passes: m.uvb_transmittance,
      })),
  ];
}
