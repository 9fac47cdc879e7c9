/** What both views of the enclosure are given, and how they change the plan. */
import type { Catalog, Evaluation, PlanDocument } from "../api/types";
import type { WantedRange } from "./Contours";
import type { FieldName, FieldScale } from "./fields";

export interface StageEdits {
  /** The plan before the edit under way. */
  base: () => PlanDocument;
  preview: (document: PlanDocument) => void;
  commit: (document: PlanDocument, summary: string) => void;
  cancel: () => void;
}

export interface StageProps {
  document: PlanDocument;
  evaluation: Evaluation | null;
  scale: FieldScale | null;
  /** The range of the field that is wanted, marked in the picture. */
  wanted: WantedRange | null;
  catalog: Catalog;
  field: FieldName;
  selected: string;
  onSelect: (id: string) => void;
  edits: StageEdits;
  /** What is pointed at in the list beside the drawing. */
  pointed?: string | null;
  shade: boolean;
  reach: boolean;
}
