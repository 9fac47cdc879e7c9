import { useCallback, useEffect, useMemo, useState } from "react";
import type { PlanDocument } from "../../api/types";
import type { Selection } from "../../canvas/selection";
import { present, selectableKeys } from "../../domain/plan/selection";

/** Lamps and furnishings that are selected together: with Shift, with Space, with Ctrl A, or by touch. */
export function useItemSelection(
  document: PlanDocument,
  selected: string,
  onSelect: (key: string) => void,
): Selection {
  const [wanted, setWanted] = useState<readonly string[]>([]);
  const [adding, setAdding] = useState(false);
  // What was removed, or whose adding was undone, is not among them any more.
  const keys = useMemo(() => present(document, wanted), [document, wanted]);
  const toggle = useCallback(
    (key: string) => {
      if (keys.includes(key)) return setWanted(keys.filter((k) => k !== key));
      // What is selected alone is the first of them.
      const alone = present(document, [selected]).filter((k) => k !== key);
      setWanted([...(keys.length > 0 ? keys : alone), key]);
      onSelect(key);
    },
    [document, selected, keys, onSelect],
  );
  const clear = useCallback(() => {
    setWanted([]);
    setAdding(false);
  }, []);
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const at = event.target;
      if (at instanceof HTMLElement && at.closest("input, textarea, select, [role=dialog]")) return;
      if (event.key === "Escape" && keys.length > 0) clear();
      if (event.key.toLowerCase() !== "a" || !(event.ctrlKey || event.metaKey)) return;
      event.preventDefault();
      setWanted(selectableKeys(document));
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [document, keys, clear]);
  return useMemo(
    () => ({ keys, adding, toggle, put: setWanted, clear, setAdding }),
    [keys, adding, toggle, clear],
  );
}
