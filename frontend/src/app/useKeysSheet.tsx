import { lazy, type ReactNode, Suspense, useEffect, useState } from "react";

// Seldom wanted first: fetched when it is.
const KeysSheet = lazy(async () => ({ default: (await import("./KeysSheet")).KeysSheet }));

/** The sheet with all keys, which "?" opens on every screen; null while it is closed. */
export function useKeysSheet(): ReactNode {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const key = (event: KeyboardEvent) => {
      if (event.key !== "?" || event.ctrlKey || event.metaKey || event.altKey) return;
      const at = event.target;
      if (at instanceof HTMLElement && at.matches("input, textarea, select")) return;
      event.preventDefault();
      setOpen(true);
    };
    window.addEventListener("keydown", key);
    return () => window.removeEventListener("keydown", key);
  }, []);
  if (!open) return null;
  return (
    <Suspense>
      <KeysSheet onClose={() => setOpen(false)} />
    </Suspense>
  );
}
