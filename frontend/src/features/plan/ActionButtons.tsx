import { Copy, CopyPlus, Lock, LockOpen, RotateCcw, SquareStack, Trash2 } from "lucide-react";
import type { StageEdits } from "../../canvas/edits";
import { useSelection } from "../../canvas/selection";
import { type ItemActions, makeStepRunner } from "../../domain/plan/itemActions";
import { Button } from "../../ui/Button";
import { useItemClipboard } from "./itemClipboard";

interface ActionButtonsProps {
  actions: ItemActions;
  edits: StageEdits;
  onSelect: (id: string) => void;
  /** What is selected together after it. */
  onTogether?: (keys: readonly string[]) => void;
  /** What the last button says. */
  remove: string;
}

/** Copy, duplicate, turn, lock and remove what a form is about. */
export function ActionButtons(props: ActionButtonsProps) {
  const { actions, edits, onSelect, onTogether, remove } = props;
  const { copy } = useItemClipboard();
  const selection = useSelection();
  const take = makeStepRunner(edits.commit, onSelect, onTogether);
  const { locked, turn, lock } = actions;
  return (
    <div className="flex flex-wrap gap-2 self-end">
      <Button size="small" aria-keyshortcuts="Control+D" onClick={() => take(actions.copy())}>
        <CopyPlus size={15} aria-hidden /> Duplicate
      </Button>
      <Button size="small" aria-keyshortcuts="Control+C" onClick={copy}>
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
      {selection.keys.length < 2 && (
        <Button size="small" onClick={() => selection.setAdding(true)}>
          <SquareStack size={15} aria-hidden /> Select others too
        </Button>
      )}
      <Button size="small" disabled={locked} onClick={() => take(actions.remove())}>
        <Trash2 size={15} aria-hidden /> {remove}
      </Button>
    </div>
  );
}
