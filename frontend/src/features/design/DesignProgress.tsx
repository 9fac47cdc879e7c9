import type { Catalog, DesignStatus } from "../../api/types";
import { Thumbnail } from "../../canvas/Thumbnail";
import { Button } from "../../ui/Button";

interface DesignProgressProps {
  status: DesignStatus | null;
  catalog: Catalog | null;
  onStop: () => void;
}

/** How far a design is, with a picture of the best so far; it can be stopped, keeping that. */
export function DesignProgress({ status, catalog, onStop }: DesignProgressProps) {
  const screened = status?.screened ?? 0;
  const expected = Math.max(status?.expected ?? 0, 1);
  return (
    <section
      aria-label="Looking for set-ups"
      className="rounded-xl border border-line bg-panel p-4"
      data-testid="design-progress"
    >
      <div className="flex flex-wrap items-center gap-3">
        <progress
          className="h-3 min-w-40 flex-1"
          value={Math.min(screened, expected)}
          max={expected}
          aria-label="Candidates screened"
        />
        <Button onClick={onStop} disabled={screened === 0}>
          Stop and take the best
        </Button>
      </div>
      <p className="mt-2" role="status">
        {screened === 0
          ? "Furnishing the enclosure and choosing lamps…"
          : `${screened.toLocaleString("en")} candidates screened, up to ${expected.toLocaleString("en")}`}
        {status?.best_failing === 0
          ? ". Nothing fails in the best so far."
          : (status?.best_failing ?? 0) > 0 &&
            `. In the best so far ${status?.best_failing} of its checks fail.`}
      </p>
      {status?.best && (
        <div className="mt-3 max-w-sm overflow-hidden rounded-lg border border-line">
          <Thumbnail document={status.best} catalog={catalog} />
          <p className="px-3 py-1.5 text-sm text-soft">The best so far</p>
        </div>
      )}
    </section>
  );
}
