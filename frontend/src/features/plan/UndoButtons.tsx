import { Redo2, Undo2 } from "lucide-react";
import { IconButton } from "../../ui/Button";
import type { PlanEditor } from "./usePlanEditor";

/** Undo and redo of a plan, on each of its screens. */
export function UndoButtons({ editor }: { editor: PlanEditor }) {
  const { undo, redo, canUndo, canRedo } = editor;
  return (
    <>
      <IconButton
        label={canUndo ? `Undo: ${canUndo}` : "Undo"}
        keys="Control+Z"
        disabled={!canUndo}
        onClick={undo}
      >
        <Undo2 size={18} aria-hidden />
      </IconButton>
      <IconButton
        label={canRedo ? `Redo: ${canRedo}` : "Redo"}
        keys="Control+Y"
        disabled={!canRedo}
        onClick={redo}
      >
        <Redo2 size={18} aria-hidden />
      </IconButton>
    </>
  );
}
