import { FileOutput } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import type { ReactNode } from "react";
import type { View } from "../../api/client";
import { useNotify } from "../../app/notices";
import type { FieldName } from "../../canvas/fields";
import { usePreferences } from "../../ui/preferences";
import type { PlanEditor } from "./usePlanEditor";

interface OutputsMenuProps {
  planId: string;
  editor: PlanEditor;
  view: View;
  field: FieldName;
  /** Opens the revisions, where there is no room for another button. */
  onRevisions?: (() => void) | undefined;
}

/** Everything a plan can leave the program as. Each waits until the last edit is saved. */
export function OutputsMenu({ planId, editor, view, field, onRevisions }: OutputsMenuProps) {
  const { units } = usePreferences();
  const notify = useNotify();
  // Where both views are drawn, the section is meant.
  const from = view.from === "above" ? "above" : "front";
  const at = from === "above" ? view.height : view.depth;
  const section = { view: from, ...(at === null ? {} : { at: at.toFixed(4) }) };
  // Surfaces are drawn on paper with the air.
  const drawn = field === "surface" ? "air" : field;
  const go = async (path: string, query: Record<string, string> = {}) => {
    if (!(await saved())) return;
    const search = new URLSearchParams(query).toString();
    window.location.assign(`/api/plans/${planId}/${path}${search ? `?${search}` : ""}`);
  };
  const saved = async () => {
    await editor.flush();
    if (editor.isSaved()) return true;
    notify({
      title: "Not saved yet",
      detail: "Exports use the saved plan. Save it first, then try again.",
      tone: "trouble",
    });
    return false;
  };
  const copyLink = async () => {
    if (!(await saved())) return;
    const link = `${window.location.origin}/plans/${planId}/revisions/${editor.savedRevision()}`;
    try {
      await navigator.clipboard.writeText(link);
      notify({ title: "Link copied", detail: link, tone: "plain" });
    } catch {
      notify({ title: "The link to this revision", detail: link, tone: "plain" });
    }
  };
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label="Print and export"
        className="inline-flex min-h-9 items-center gap-1.5 rounded-md px-2 text-sm font-medium hover:bg-wash"
      >
        <FileOutput size={18} aria-hidden /> <span className="max-md:sr-only">Export</span>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          className="z-50 min-w-56 rounded-lg border border-edge bg-panel p-1 shadow-xl"
        >
          {onRevisions && <Item onSelect={onRevisions}>Revisions</Item>}
          <Item onSelect={() => void go("report", { units })}>Report, to read and print</Item>
          <Item onSelect={() => void go("report.pdf", { units })}>Report as PDF</Item>
          <DropdownMenu.Separator className="my-1 h-px bg-line" />
          <Item onSelect={() => void go("drawing.svg", { ...section, field: drawn, units })}>
            This drawing as SVG
          </Item>
          <Item onSelect={() => void go("drawing.png", { ...section, field: drawn, units })}>
            This drawing as PNG
          </Item>
          <Item onSelect={() => void go("field.csv", section)}>
            The field on this section as CSV
          </Item>
          <DropdownMenu.Separator className="my-1 h-px bg-line" />
          <Item onSelect={() => void go("export")}>The plan as a file</Item>
          <Item onSelect={() => void copyLink()}>Copy a link to this revision</Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

function Item({ onSelect, children }: { onSelect: () => void; children: ReactNode }) {
  return (
    <DropdownMenu.Item
      onSelect={onSelect}
      className="flex min-h-9 cursor-pointer items-center rounded px-2.5 text-sm outline-none select-none data-[highlighted]:bg-wash"
    >
      {children}
    </DropdownMenu.Item>
  );
}
