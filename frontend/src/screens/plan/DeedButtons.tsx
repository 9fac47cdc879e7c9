import { Copy, Lock, LockOpen, RotateCcw, Trash2 } from "lucide-react";
import { type Deeds, taking } from "../../plan/deeds";
import type { StageEdits } from "../../stage/edits";
import { Button } from "../../ui/Button";

interface DeedButtonsProps {
  deeds: Deeds;
  edits: StageEdits;
  onSelect: (id: string) => void;
  /** What the last button says. */
  remove: string;
}

/** Copy, turn, lock and remove the thing a form is about. */
export function DeedButtons({ deeds, edits, onSelect, remove }: DeedButtonsProps) {
  const take = taking(edits.commit, onSelect);
  const { locked, turn, lock } = deeds;
  return (
    <div className="flex flex-wrap gap-2 self-end">
      <Button size="small" onClick={() => take(deeds.copy())}>
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
      <Button size="small" disabled={locked} onClick={() => take(deeds.remove())}>
        <Trash2 size={15} aria-hidden /> {remove}
      </Button>
    </div>
  );
}
