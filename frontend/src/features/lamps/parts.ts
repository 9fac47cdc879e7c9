/** What the parts of the lamp form are given. */
import type { LampDocument } from "../../api/types";

export interface PartProps {
  document: LampDocument;
  onChange: (part: Partial<LampDocument>) => void;
}
