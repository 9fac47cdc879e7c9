import { CircleHelp } from "lucide-react";
import { Popover } from "radix-ui";
import type { ReactNode } from "react";

/** A small question mark that explains the thing beside it. */
export function Help({ about, children }: { about: string; children: ReactNode }) {
  return (
    <Popover.Root>
      <Popover.Trigger
        aria-label={`Help: ${about}`}
        className="inline-grid size-6 place-items-center rounded-full text-soft hover:bg-wash"
      >
        <CircleHelp size={15} aria-hidden />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          sideOffset={4}
          collisionPadding={12}
          aria-label={`Help: ${about}`}
          className="z-50 max-w-xs rounded-lg border border-edge bg-raised p-3 text-sm shadow-lg"
        >
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
