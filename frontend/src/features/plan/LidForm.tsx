import type { Wall } from "../../api/types";
import { GRID } from "../../ui/grid";
import { BeyondFields } from "./BeyondFields";
import { FaceParts } from "./FaceParts";
import type { FormProps } from "./forms";
import { WallFields } from "./WallFields";

/** What the lid is made of: closed, mesh or open, whole or with parts made otherwise. */
export function LidForm(props: FormProps) {
  const { document: d, edits } = props;
  const lid = (top: Wall, summary: string) =>
    edits.commit(
      { ...d, enclosure: { ...d.enclosure, walls: { ...d.enclosure.walls, top } } },
      `Lid: ${summary}`,
    );
  return (
    <div>
      <div className={GRID}>
        <WallFields {...props} wall={d.enclosure.walls.top} name="Lid" screens onChange={lid} />
        <BeyondFields {...props} face="top" name="Lid" />
      </div>
      <FaceParts {...props} face="top" name="lid" />
    </div>
  );
}
