import { useCallback, useEffect, useMemo } from "react";
import { evaluate } from "../../api/client";
import type { Catalog, PlanDocument } from "../../api/types";
import { describe, useNotify } from "../../app/notices";
import { type Copied, copiedItems, countOf, pasted, readCopied } from "../../domain/plan/clipboard";
import type { ItemClipboard } from "./itemClipboard";

const KEY = "copied-items";

interface ClipboardUse {
  document: PlanDocument;
  catalog: Catalog;
  /** What is selected: one item or several. */
  keys: readonly string[];
  commit: (document: PlanDocument, summary: string) => void;
  /** Select what was pasted. */
  onPasted: (keys: readonly string[]) => void;
}

/** Copy and paste of lamps and furnishings, by Ctrl C and Ctrl V or by buttons, within and between enclosures. */
export function useClipboard(use: ClipboardUse): ItemClipboard {
  const { document: d, catalog, keys, commit, onPasted } = use;
  const notify = useNotify();
  const take = useCallback((): string | null => {
    const copied = copiedItems(d, keys);
    if (!copied) return null;
    const text = JSON.stringify(copied);
    try {
      // For the button, which may not read the system's clipboard.
      localStorage.setItem(KEY, text);
    } catch {
      // Ctrl C and Ctrl V work without it.
    }
    notify({
      title: `${named(copied)} copied. Paste here or in another enclosure.`,
      tone: "plain",
    });
    return text;
  }, [d, keys, notify]);
  const put = useCallback(
    async (copied: Copied) => {
      const { document, keys: made, tooLarge } = pasted(d, catalog, copied);
      const left =
        tooLarge.length > 0 ? `Too large for this enclosure: ${tooLarge.join(", ")}.` : "";
      if (made.length === 0) {
        notify({ title: "Nothing was pasted", detail: left, tone: "trouble" });
        return;
      }
      try {
        await evaluate(document);
      } catch (error) {
        const { title, detail } = describe(error);
        notify({ title: "Nothing was pasted", detail: `${title}. ${detail}`, tone: "trouble" });
        return;
      }
      const what = made.length === 1 ? "1 item" : `${made.length} items`;
      commit(document, `${what} pasted from ${copied.from}`.slice(0, 200));
      onPasted(made);
      notify({ title: `${what} pasted from “${copied.from}”`, detail: left, tone: "plain" });
    },
    [d, catalog, commit, onPasted, notify],
  );
  useEffect(() => {
    const onCopy = (event: ClipboardEvent) => {
      if (isText(event)) return;
      const text = take();
      if (text === null) return;
      event.clipboardData?.setData("text/plain", text);
      event.preventDefault();
    };
    const onPaste = (event: ClipboardEvent) => {
      if (isText(event)) return;
      const copied = readCopied(event.clipboardData?.getData("text/plain") ?? "");
      if (!copied) return;
      event.preventDefault();
      void put(copied);
    };
    window.document.addEventListener("copy", onCopy);
    window.document.addEventListener("paste", onPaste);
    return () => {
      window.document.removeEventListener("copy", onCopy);
      window.document.removeEventListener("paste", onPaste);
    };
  }, [take, put]);
  const copy = useCallback(() => {
    if (take() === null) {
      notify({
        title: "Nothing to copy",
        detail: "Select a lamp or a furnishing first.",
        tone: "plain",
      });
    }
  }, [take, notify]);
  const paste = useCallback(() => {
    const copied = readCopied(remembered());
    if (copied) void put(copied);
    else {
      notify({
        title: "Nothing to paste",
        detail: "Select a lamp or a furnishing in any enclosure and copy it first.",
        tone: "plain",
      });
    }
  }, [put, notify]);
  return useMemo(() => ({ copy, paste }), [copy, paste]);
}

function remembered(): string {
  try {
    return localStorage.getItem(KEY) ?? "";
  } catch {
    return "";
  }
}

function named(copied: Copied): string {
  const one = countOf(copied) === 1 && (copied.fixtures[0] ?? copied.furnishings[0]);
  return one ? one.label : `${countOf(copied)} items`;
}

/** Whether text is meant: in a field, or where some is marked. */
function isText(event: ClipboardEvent): boolean {
  const at = event.target;
  if (at instanceof Element && at.closest("input, textarea, select, [role=dialog]")) return true;
  return event.type === "copy" && window.getSelection()?.isCollapsed === false;
}
