import { Trash2 } from "lucide-react";
import type { ReactNode } from "react";
import { Button } from "../../ui/Button";
import { GRID } from "../../ui/grid";

interface PartFieldsetProps {
  /** As in "Vent 1". */
  title: string;
  testId?: string;
  onRemove: () => void;
  children: ReactNode;
}

/** The fields of one part of a face, with a button that removes it. */
export function PartFieldset({ title, testId, onRemove, children }: PartFieldsetProps) {
  return (
    <fieldset className="mt-4 border-t border-line pt-3" data-testid={testId}>
      <legend className="float-left flex w-full items-center justify-between font-semibold">
        {title}
        <Button size="small" onClick={onRemove}>
          <Trash2 size={15} aria-hidden />
          Remove {title.toLowerCase()}
        </Button>
      </legend>
      <div className={`${GRID} clear-both`}>{children}</div>
    </fieldset>
  );
}
