import clsx from "clsx";
import { ShieldAlert } from "lucide-react";
import type { Finding, Fix } from "../../api/types";
import { FixLines } from "./FixLines";
import { Phrase } from "./Phrase";
import { Chevron, type PointingProps, pointing } from "./pointing";
import type { FixState } from "./useEvaluation";

const FINDING_WORD: Record<Finding["severity"], string> = {
  danger: "Danger",
  fault: "To change",
  care: "Take care",
  note: "Note",
};
const ASK: Record<NonNullable<Finding["ask"]>, string> = {
  electrician: "Ask a qualified electrician; local code goes first.",
  veterinarian: "In doubt or after a burn, ask a veterinarian who knows reptiles.",
};

interface FindingRowProps extends PointingProps {
  finding: Finding;
  fix: FixState | undefined;
  onTry: (fix: Fix) => void;
  open: boolean;
  onOpen: (id: string) => void;
}

/** A fault seen in the plan: a line that opens into its reason and what to change. */
export function FindingRow(props: FindingRowProps) {
  const { finding: f, fix, onTry, onPoint, open, onOpen } = props;
  const danger = f.severity === "danger";
  const bad = danger || f.severity === "fault";
  const more = Boolean(f.caution || f.ask || f.severity !== "note");
  return (
    <li
      data-testid={`finding-${f.id}`}
      data-severity={f.severity}
      className={clsx("border-t border-line text-sm", bad && "bg-high-wash")}
      {...pointing(f.about_id, onPoint)}
    >
      <button
        type="button"
        aria-expanded={open}
        onClick={() => onOpen(f.id)}
        className="flex w-full items-start gap-1.5 px-3 py-1 text-left hover:bg-wash"
      >
        <ShieldAlert
          size={15}
          className={clsx("mt-0.5 shrink-0", bad ? "text-high" : "text-soft")}
          aria-hidden
        />
        <span className={clsx("min-w-0 flex-1", danger && "text-high", !open && "line-clamp-2")}>
          <strong>{FINDING_WORD[f.severity]}: </strong>
          <Phrase parts={f.message} />
        </span>
        <Chevron open={open} />
      </button>
      {open && more && (
        <div className="px-3 pb-2 pl-8">
          {(f.caution || f.ask) && (
            <p className="text-soft">
              {f.caution} {f.ask && ASK[f.ask]}
            </p>
          )}
          {f.severity !== "note" && (
            <FixLines fix={fix} place={f.id} onTry={onTry} quiet={f.severity === "care"} />
          )}
        </div>
      )}
    </li>
  );
}
