import type { Wall } from "../../api/types";
import { FaceParts } from "./FaceParts";
import { type FormProps, GRID } from "./forms";
import { WallFields } from "./WallFields";

/** What the lid is made of: closed, mesh or open, whole or with parts made otherwise. */
export function LidForm(props: FormProps) {
  const { document: d, edits } = props;
  const lid = (top: Wall, summary: string) =>
    edits.commit({ ...d, box: { ...d.box, walls: { ...d.box.walls, top } } }, `Lid: ${summary}`);
  return (
    <div>
      <div className={GRID}>
        <WallFields {...props} wall={d.box.walls.top} name="Lid" screens onChange={lid} />
      </div>
      <FaceParts {...props} face="top" name="lid" />
    </div>
  );
}
