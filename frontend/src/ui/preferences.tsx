import { createContext, type ReactNode, useContext, useEffect, useMemo, useState } from "react";
import type { UnitSystem } from "../domain/units/units";

export type Theme = "light" | "dark" | "auto";

interface Preferences {
  units: UnitSystem;
  setUnits: (units: UnitSystem) => void;
  theme: Theme;
  setTheme: (theme: Theme) => void;
  /** The theme in force. */
  dark: boolean;
}

const Context = createContext<Preferences | null>(null);

function remembered<T extends string>(key: string, allowed: readonly T[], otherwise: T): T {
  try {
    const value = localStorage.getItem(key) as T | null;
    return value !== null && allowed.includes(value) ? value : otherwise;
  } catch {
    return otherwise;
  }
}

function remember(key: string, value: string): void {
  try {
    localStorage.setItem(key, value);
  } catch {
    // Private windows may refuse; the choice then lasts as long as the page.
  }
}

export function PreferencesProvider({ children }: { children: ReactNode }) {
  const [units, setUnits] = useState<UnitSystem>(() =>
    remembered("units", ["metric", "imperial"], "metric"),
  );
  const [theme, setTheme] = useState<Theme>(() =>
    remembered("theme", ["light", "dark", "auto"], "auto"),
  );
  const [systemDark, setSystemDark] = useState(
    () => matchMedia("(prefers-color-scheme: dark)").matches,
  );
  useEffect(() => {
    const query = matchMedia("(prefers-color-scheme: dark)");
    const follow = () => setSystemDark(query.matches);
    query.addEventListener("change", follow);
    return () => query.removeEventListener("change", follow);
  }, []);
  const dark = theme === "dark" || (theme === "auto" && systemDark);
  useEffect(() => {
    document.documentElement.dataset.theme = dark ? "dark" : "light";
  }, [dark]);
  useEffect(() => remember("units", units), [units]);
  useEffect(() => remember("theme", theme), [theme]);
  const value = useMemo(() => ({ units, setUnits, theme, setTheme, dark }), [units, theme, dark]);
  return <Context.Provider value={value}>{children}</Context.Provider>;
}

export function usePreferences(): Preferences {
  const value = useContext(Context);
  if (!value) throw new Error("usePreferences outside PreferencesProvider");
  return value;
}
