import type { Wall } from "../../api/types";
import { meshLabel } from "../../domain/plan/screens";
import { fixed } from "../../domain/units/units";
import { Help } from "../../ui/Help";
import { NumberField } from "../../ui/NumberField";
import { SelectField } from "../../ui/SelectField";
import type { FormProps } from "./forms";

/** A sheet without insulation over it. */
const BARE = { insulation_id: null, insulation_m: 0 } as const;

export interface WallFieldsProps extends FormProps {
  wall: Wall;
  name: string;
  /** Whether a lamp can stand beyond it, so that what it passes counts. */
  screens?: boolean;
  onChange: (wall: Wall, summary: string) => void;
}

export function WallFields({ catalog, wall, name, screens = false, onChange }: WallFieldsProps) {
  const sheets = catalog.materials.filter((m) => m.uses.includes("wall"));
  const mesh = wall.kind === "mesh" ? catalog.meshes.find((m) => m.id === wall.mesh_id) : undefined;
  const sheet =
    wall.kind === "solid" ? catalog.materials.find((m) => m.id === wall.material_id) : undefined;
  const passes = mesh?.open_fraction ?? (sheet?.pane ? sheet.uvb_transmittance : null);
  return (
    <>
      <SelectField
        label={`${name} made of`}
        value={wall.kind === "open" ? "" : wall.kind === "mesh" ? wall.mesh_id : wall.material_id}
        options={[
          { value: "", label: "Nothing: open" },
          ...catalog.meshes.map((m) => ({
            value: m.id,
            label: meshLabel(m),
            group: "Mesh",
          })),
          ...sheets.map((m) => ({ value: m.id, label: m.label, group: "Closed" })),
        ]}
        help={
          screens && (
            <Help about="the lid">
              A lamp above the lid shines through it. The same mesh that holds a lizard in keeps
              much of its UV out; glass and most plastics stop it all.
            </Help>
          )
        }
        onChange={(id) => {
          const to = catalog.meshes.find((m) => m.id === id) ?? sheets.find((m) => m.id === id);
          const next: Wall =
            id === ""
              ? { kind: "open" }
              : catalog.meshes.some((m) => m.id === id)
                ? { kind: "mesh", mesh_id: id, measured_uv: null }
                : {
                    kind: "solid",
                    material_id: id,
                    thickness_m: sheets.find((m) => m.id === id)?.usual_thickness_m ?? 0.004,
                    measured_uv: null,
                    ...BARE,
                  };
          onChange(next, to?.label ?? "open");
        }}
      />
      {wall.kind === "solid" && (
        <NumberField
          label="Thickness"
          dimension="length"
          value={wall.thickness_m}
          min={0.001}
          max={0.2}
          onCommit={(thickness_m) => onChange({ ...wall, thickness_m }, "another thickness")}
        />
      )}
      {screens && wall.kind !== "open" && passes !== null && (
        <NumberField
          label="UV that passes it"
          dimension="share"
          value={wall.measured_uv ?? passes}
          min={0}
          max={1}
          onCommit={(share) =>
            onChange({ ...wall, measured_uv: share }, `passes ${fixed(100 * share, 0)} %`)
          }
          help={
            <Help about="measured share">
              UV index straight below it divided by that without it, if you have measured it.
            </Help>
          }
        />
      )}
    </>
  );
}
