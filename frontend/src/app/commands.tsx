import {
  createContext,
  lazy,
  type ReactNode,
  Suspense,
  useContext,
  useEffect,
  useId,
  useMemo,
  useRef,
  useState,
} from "react";
import type { Command } from "./command";
import { useKeysSheet } from "./useKeysSheet";

interface Commands {
  put: (source: string, commands: readonly Command[]) => void;
  remove: (source: string) => void;
  all: () => readonly Command[];
  open: () => void;
}

const Context = createContext<Commands | null>(null);

// Seldom wanted first: fetched when it is.
const CommandPalette = lazy(async () => ({
  default: (await import("./CommandPalette")).CommandPalette,
}));

/** What screens offer to the palette, and the palette itself: Ctrl K anywhere. */
export function CommandsProvider({ children }: { children: ReactNode }) {
  const sources = useRef(new Map<string, readonly Command[]>());
  const [isOpen, setOpen] = useState(false);
  const keysSheet = useKeysSheet();
  const commands = useMemo<Commands>(
    () => ({
      put: (source, offered) => sources.current.set(source, offered),
      remove: (source) => sources.current.delete(source),
      all: () => [...sources.current.values()].flat(),
      open: () => setOpen(true),
    }),
    [],
  );
  useEffect(() => {
    const key = (event: KeyboardEvent) => {
      if (event.key.toLowerCase() !== "k" || !(event.ctrlKey || event.metaKey)) return;
      event.preventDefault();
      setOpen((before) => !before);
    };
    window.addEventListener("keydown", key);
    return () => window.removeEventListener("keydown", key);
  }, []);
  return (
    <Context value={commands}>
      {children}
      {keysSheet}
      {isOpen && (
        <Suspense>
          <CommandPalette offered={commands.all()} onClose={() => setOpen(false)} />
        </Suspense>
      )}
    </Context>
  );
}

function useContextOrFail(): Commands {
  const commands = useContext(Context);
  if (!commands) throw new Error("useCommands outside CommandsProvider");
  return commands;
}

/** Offer commands while the calling component is on show. */
export function useCommands(offered: readonly Command[]): void {
  const commands = useContextOrFail();
  const source = useId();
  useEffect(() => {
    commands.put(source, offered);
    return () => commands.remove(source);
  }, [commands, source, offered]);
}

/** Opens the palette. */
export const useOpenCommands = (): (() => void) => useContextOrFail().open;
