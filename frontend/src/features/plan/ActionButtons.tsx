import { Copy, Lock, LockOpen, RotateCcw, Trash2 } from "lucide-react";
import type { StageEdits } from "../../canvas/edits";
import { type ItemActions, makeStepRunner } from "../../domain/plan/itemActions";
import { Button } from "../../ui/Button";

interface ActionButtonsProps {
  actions: ItemActions;
  edits: StageEdits;
  onSelect: (id: string) => void;
  /** What the last button says. */
  remove: string;
}

/** Copy, turn, lock and remove the thing a form is about. */
export function ActionButtons({ actions, edits, onSelect, remove }: ActionButtonsProps) {
  const take = makeStepRunner(edits.commit, onSelect);
  const { locked, turn, lock } = actions;
  return (
    <div className="flex flex-wrap gap-2 self-end">
      <Button size="small" onClick={() => take(actions.copy())}>
        <Copy size={15} aria-hidden /> Copy
      </Button>
      {turn && (
        <Button size="small" disabled={locked} onClick={() => take(turn())}>
          <RotateCcw size={15} aria-hidden /> Turn by a quarter
        </Button>
      )}
      {lock && (
        <Button size="small" onClick={() => take(lock())}>
          {locked ? <LockOpen size={15} aria-hidden /> : <Lock size={15} aria-hidden />}
          {locked ? "Unlock" : "Lock in place"}
        </Button>
      )}
      <Button size="small" disabled={locked} onClick={() => take(actions.remove())}>
        <Trash2 size={15} aria-hidden /> {remove}
      </Button>
    </div>
  );
}
