import { DoorOpen, Plus } from "lucide-react";
import type { PlanDocument, Wall } from "../../api/types";
import { Button } from "../../ui/Button";
import { Help } from "../../ui/Help";
import { NumberField } from "../../ui/NumberField";
import type { FormProps } from "./forms";
import { PartFieldset } from "./PartFieldset";
import { VentFields } from "./VentFields";
import { WallFields } from "./WallFields";

type Inset = NonNullable<PlanDocument["enclosure"]["insets"]>[number];
type Face = NonNullable<Inset["face"]>;

const MOST_PARTS = 12;
/** A glass door's usual play, m. */
const USUAL_GAP_M = 0.002;

const MESH: Wall = { kind: "mesh", mesh_id: "medium-0.7-4.0", measured_uv: null };

function sheet(material_id: string, thickness_m: number): Wall {
  return {
    kind: "solid",
    material_id,
    thickness_m,
    measured_uv: null,
    insulation_id: null,
    insulation_m: 0,
  };
}

interface FacePartsProps extends FormProps {
  face: Face;
  /** As in "Part 1 of the lid". */
  name: string;
}

/** Parts of the lid or of a side that are made otherwise: windows, closed parts, doors. */
export function FaceParts(props: FacePartsProps) {
  const { document: d, edits, face, name } = props;
  const all = d.enclosure.insets ?? [];
  const mine = all.flatMap((inset, at) => ((inset.face ?? "top") === face ? [{ inset, at }] : []));
  const put = (insets: Inset[], summary: string) =>
    edits.commit({ ...d, enclosure: { ...d.enclosure, insets } }, summary);
  const sideways = face === "left" || face === "right";
  const along = sideways ? d.enclosure.depth_m : d.enclosure.length_m;
  const across = face === "top" ? d.enclosure.depth_m : d.enclosure.height_m;
  const closed = d.enclosure.walls[face].kind === "solid";
  const add = (wall: Wall, gap_m: number, summary: string) => {
    const at =
      face === "top"
        ? { x0_m: along * 0.55, x1_m: along * 0.95, y0_m: across * 0.1, y1_m: across * 0.9 }
        : { x0_m: along * 0.05, x1_m: along * 0.95, y0_m: across * 0.2, y1_m: across * 0.95 };
    put([...all, { ...at, wall, face, gap_m }], summary);
  };
  const limits = [
    { key: "x0_m", label: sideways ? "from the front" : "from the left", most: along },
    { key: "x1_m", label: "to", most: along },
    { key: "y0_m", label: face === "top" ? "from the front" : "from the floor", most: across },
    { key: "y1_m", label: "to", most: across },
  ] as const;
  return (
    <div>
      {mine.map(({ inset, at }, i) => {
        const door = (inset.gap_m ?? 0) > 0;
        const title = door ? `Door ${i + 1}` : `Part ${i + 1}`;
        const change = (to: Partial<Inset>, summary: string) =>
          put(
            all.map((old, k) => (k === at ? { ...old, ...to } : old)),
            `${title} of the ${name}: ${summary}`,
          );
        return (
          <PartFieldset
            key={at}
            title={title}
            onRemove={() =>
              put(
                all.filter((_, k) => k !== at),
                `${title} of the ${name} removed`,
              )
            }
          >
            <WallFields
              {...props}
              wall={inset.wall}
              name={title}
              screens={face === "top"}
              onChange={(wall, summary) =>
                change({ wall, gap_m: wall.kind === "solid" ? (inset.gap_m ?? 0) : 0 }, summary)
              }
            />
            {limits.map(({ key, label, most }) => (
              <NumberField
                key={key}
                label={label}
                dimension="length"
                value={inset[key]}
                min={0}
                max={most}
                onCommit={(m) => change({ [key]: m }, "moved")}
              />
            ))}
            {face !== "top" && inset.wall.kind === "solid" && (
              <NumberField
                label="Gap around it"
                dimension="length"
                value={inset.gap_m ?? 0}
                min={0}
                max={0.02}
                onCommit={(gap_m) => change({ gap_m }, "another gap")}
                help={
                  <Help about="the gap of a door">
                    The slit left all round a door, or between panes that slide. Warm air leaves
                    through it above and room air comes in below. 0 for a part that does not open.
                  </Help>
                }
              />
            )}
          </PartFieldset>
        );
      })}
      {all.length < MOST_PARTS && (
        <div className="mt-4 flex flex-wrap gap-2">
          <Button
            size="small"
            onClick={() =>
              closed
                ? add(MESH, 0, `Mesh window in the ${name}`)
                : add(sheet("white-board", 0.01), 0, `Part of the ${name} closed`)
            }
          >
            <Plus size={15} aria-hidden />
            {closed ? "A mesh window in it" : "Close part of it"}
          </Button>
          {face !== "top" && (
            <Button
              size="small"
              onClick={() => add(sheet("glass", 0.004), USUAL_GAP_M, `Door in the ${name}`)}
            >
              <DoorOpen size={15} aria-hidden />A door in it
            </Button>
          )}
        </div>
      )}
      <VentFields {...props} />
    </div>
  );
}
