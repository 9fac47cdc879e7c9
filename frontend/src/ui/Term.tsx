import { Popover } from "radix-ui";
import { lazy, type ReactNode, Suspense } from "react";

// The words of the glossary are fetched when one is asked for.
const Explanation = lazy(async () => ({ default: (await import("./TermText")).TermText }));

/** A word that is explained where it is used: pressed, it says what it means. */
export function Term({ id, children }: { id: string; children: ReactNode }) {
  return (
    <Popover.Root>
      <Popover.Trigger className="in-text inline-block min-h-6 rounded underline decoration-dotted decoration-1 underline-offset-3 hover:bg-wash">
        {children}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          sideOffset={4}
          collisionPadding={12}
          aria-label="What it means"
          className="z-50 max-w-xs rounded-lg border border-edge bg-raised p-3 text-sm shadow-lg"
        >
          <Suspense fallback={<p className="text-soft">Loading…</p>}>
            <Explanation id={id} />
          </Suspense>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
