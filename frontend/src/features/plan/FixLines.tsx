import { Wrench } from "lucide-react";
import type { Fix } from "../../api/types";
import { Button } from "../../ui/Button";
import { Phrase } from "./Phrase";
import type { FixState } from "./useEvaluation";

interface FixLinesProps {
  fix: FixState | undefined;
  place: string;
  onTry: (fix: Fix) => void;
  quiet?: boolean;
}

/** What was found to cure a failure, to try at once. */
export function FixLines({ fix, place, onTry, quiet = false }: FixLinesProps) {
  if (!fix) {
    return <p className="mt-1.5 text-soft">Changes are proposed for the lamps as they are now.</p>;
  }
  if (fix.kind === "looking") {
    return quiet ? null : <p className="mt-1.5 text-soft">Looking for a change that helps…</p>;
  }
  if (fix.kind === "stopped") {
    return quiet ? null : <p className="mt-1.5 text-soft">The search for changes was stopped.</p>;
  }
  if (fix.kind === "failed") {
    return <p className="mt-1.5 text-soft">Fixes could not be computed just now.</p>;
  }
  if (fix.fixes.length === 0) {
    return quiet ? null : (
      <p className="mt-1.5 text-soft">
        No small change fixes this alone: “Fix everything” looks at all of the enclosure together.
      </p>
    );
  }
  return (
    <ul className="mt-1.5 space-y-1">
      {fix.fixes.map((one, i) => (
        <li
          key={JSON.stringify(one.patch)}
          className="flex items-start gap-2 rounded-md border border-edge bg-raised p-2"
        >
          <Wrench size={16} className="mt-0.5 shrink-0 text-accent" aria-hidden />
          <p className="min-w-0 flex-1" data-testid="fix">
            <Phrase parts={one.sentence} />
            {one.breaks.length > 0 && (
              <span className="mt-0.5 block text-high">But it {one.breaks.join("; ")}.</span>
            )}
          </p>
          <Button
            size="small"
            tone={i === 0 ? "strong" : "plain"}
            aria-label={i === 0 ? `Try it for ${place}` : `Try it, change ${i + 1} for ${place}`}
            onClick={() => onTry(one)}
          >
            Try it
          </Button>
        </li>
      ))}
    </ul>
  );
}
