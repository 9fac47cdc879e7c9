import { Plus, Trash2 } from "lucide-react";
import type { PlanDocument } from "../../api/types";
import { Button } from "../../ui/Button";
import { Help } from "../../ui/Help";
import { NumberField } from "../../ui/NumberField";
import { SelectField } from "../../ui/SelectField";
import { fixed } from "../../units/units";
import { type FormProps, GRID } from "./forms";

type Wall = PlanDocument["box"]["walls"]["top"];
type Inset = NonNullable<PlanDocument["box"]["insets"]>[number];

const MOST_PARTS = 4;
const SIDES = [
  { key: "x0_m", label: "from the left", along: "length_m" },
  { key: "x1_m", label: "to", along: "length_m" },
  { key: "y0_m", label: "from the front", along: "depth_m" },
  { key: "y1_m", label: "to", along: "depth_m" },
] as const;

/** A sheet without insulation over it. */
const BARE = { insulation_id: null, insulation_m: 0 } as const;

/** What the lid is made of: closed, mesh or open, whole or with parts made otherwise. */
export function LidForm(props: FormProps) {
  const { document: d, edits } = props;
  const insets = d.box.insets ?? [];
  const lid = (top: Wall, summary: string) =>
    edits.commit({ ...d, box: { ...d.box, walls: { ...d.box.walls, top } } }, `Lid: ${summary}`);
  const parts = (next: readonly Inset[], summary: string) =>
    edits.commit({ ...d, box: { ...d.box, insets: [...next] } }, summary);
  const add = () => {
    const { length_m: l, depth_m: w } = d.box;
    const closed = d.box.walls.top.kind === "solid";
    const wall: Wall = closed
      ? { kind: "mesh", mesh_id: "medium-0.7-4.0", measured_uv: null }
      : {
          kind: "solid",
          material_id: "white-board",
          thickness_m: 0.01,
          measured_uv: null,
          ...BARE,
        };
    const at = { x0_m: l * 0.55, x1_m: l * 0.95, y0_m: w * 0.1, y1_m: w * 0.9 };
    parts(
      [...insets, { ...at, wall }],
      closed ? "Mesh window in the lid" : "Part of the lid closed",
    );
  };
  return (
    <div>
      <div className={GRID}>
        <WallFields {...props} wall={d.box.walls.top} name="Lid" onChange={lid} />
      </div>
      {insets.map((inset, i) => {
        const put = (change: Partial<Inset>, summary: string) =>
          parts(
            insets.map((old, k) => (k === i ? { ...old, ...change } : old)),
            `Part ${i + 1} of the lid: ${summary}`,
          );
        return (
          <fieldset key={i} className="mt-4 border-t border-line pt-3">
            <legend className="float-left flex w-full items-center justify-between font-semibold">
              Part {i + 1}
              <Button
                size="small"
                onClick={() =>
                  parts(
                    insets.filter((_, k) => k !== i),
                    `Part ${i + 1} of the lid removed`,
                  )
                }
              >
                <Trash2 size={15} aria-hidden />
                Remove part {i + 1}
              </Button>
            </legend>
            <div className={`${GRID} clear-both`}>
              <WallFields
                {...props}
                wall={inset.wall}
                name={`Part ${i + 1}`}
                onChange={(wall, summary) => put({ wall }, summary)}
              />
              {SIDES.map(({ key, label, along }) => (
                <NumberField
                  key={key}
                  label={label}
                  dimension="length"
                  value={inset[key]}
                  min={0}
                  max={d.box[along]}
                  onCommit={(m) => put({ [key]: m }, "moved")}
                />
              ))}
            </div>
          </fieldset>
        );
      })}
      {insets.length < MOST_PARTS && (
        <Button size="small" className="mt-4" onClick={add}>
          <Plus size={15} aria-hidden />
          {d.box.walls.top.kind === "solid" ? "A mesh window in it" : "Close part of it"}
        </Button>
      )}
    </div>
  );
}

export interface WallFieldsProps extends FormProps {
  wall: Wall;
  name: string;
  onChange: (wall: Wall, summary: string) => void;
}

export function WallFields({ catalog, wall, name, onChange }: WallFieldsProps) {
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
            label: `${m.label} (${fixed(100 * m.open_fraction, 0)} % open)`,
            group: "Mesh",
          })),
          ...sheets.map((m) => ({ value: m.id, label: m.label, group: "Closed" })),
        ]}
        help={
          <Help about="the lid">
            A lamp above the lid shines through it. The same mesh that holds a lizard in keeps much
            of its UV out; glass and most plastics stop it all.
          </Help>
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
                    thickness_m: wall.kind === "solid" ? wall.thickness_m : 0.004,
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
      {wall.kind !== "open" && passes !== null && (
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
