/** What the forms of the inspector share. */
import type { ReactNode } from "react";
import type { Catalog, Evaluation, PlanDocument } from "../../api/types";
import type { StageEdits } from "../../canvas/edits";

/** What every form is given. */
export interface FormProps {
  document: PlanDocument;
  evaluation: Evaluation | null;
  catalog: Catalog;
  edits: StageEdits;
}

export function Caution({ children }: { children: ReactNode }) {
  return (
    <p className="mt-4 border-l-4 border-high bg-high-wash px-3 py-2 text-sm">
      <strong>Caution. </strong>
      {children}
    </p>
  );
}
