import { lazy, Suspense, useState } from "react";
import { Button } from "../../ui/Button";
import type { RepairProps } from "./RepairPanel";

// Fetched when it is wanted.
const RepairPanel = lazy(async () => ({ default: (await import("./RepairPanel")).RepairPanel }));

/** One action that combines changes: the fewest that fix a plan. */
export function FixEverything(props: RepairProps) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button tone="strong" size="small" onClick={() => setOpen(true)}>
        Fix everything
      </Button>
      {open && (
        <Suspense>
          <RepairPanel {...props} onClose={() => setOpen(false)} />
        </Suspense>
      )}
    </>
  );
}
