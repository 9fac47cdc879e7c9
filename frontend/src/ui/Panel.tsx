import { X } from "lucide-react";
import { Dialog } from "radix-ui";
import type { ReactNode } from "react";

interface PanelProps {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  title: string;
  description: string;
  children: ReactNode;
}

/** A dialog in the middle of the screen. */
export function Panel({ open, onOpenChange, title, description, children }: PanelProps) {
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/45" />
        <Dialog.Content className="fixed top-1/2 left-1/2 z-50 flex max-h-[85vh] w-[34rem] max-w-[calc(100vw-2rem)] -translate-x-1/2 -translate-y-1/2 flex-col rounded-xl border border-edge bg-panel shadow-xl">
          <div className="flex items-start gap-3 border-b border-line p-4">
            <div className="flex-1">
              <Dialog.Title className="text-lg font-semibold">{title}</Dialog.Title>
              <Dialog.Description className="text-sm text-soft">{description}</Dialog.Description>
            </div>
            <Dialog.Close aria-label="Close" className="rounded p-1.5 hover:bg-wash">
              <X size={18} aria-hidden />
            </Dialog.Close>
          </div>
          {/* biome-ignore lint/a11y/noNoninteractiveTabindex: long text is scrolled by keys */}
          <div className="overflow-y-auto p-4" tabIndex={0}>
            {children}
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
