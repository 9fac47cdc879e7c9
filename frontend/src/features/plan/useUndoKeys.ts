import { useEffect } from "react";

/** Undo and redo by keys, anywhere on the screen. */
export function useUndoKeys(undo: () => void, redo: () => void) {
  useEffect(() => {
    const key = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.altKey) return;
      // In a text field that is being edited the browser's own undo is meant.
      const field = event.target;
      if (field instanceof HTMLInputElement && field.type === "text") {
        if (field.dataset.unchanged !== "true") return;
      }
      const letter = event.key.toLowerCase();
      if (letter === "z" && !event.shiftKey) undo();
      else if (letter === "y" || (letter === "z" && event.shiftKey)) redo();
      else return;
      event.preventDefault();
    };
    window.addEventListener("keydown", key);
    return () => window.removeEventListener("keydown", key);
  }, [undo, redo]);
}
