import { Moon, Sun, SunMoon } from "lucide-react";
import type { ReactNode } from "react";
import { Link, NavLink } from "react-router";
import { IconButton } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { type Theme, usePreferences } from "../ui/preferences";
import { Shortcuts } from "./Shortcuts";

const PLACES = [
  { to: "/", label: "Room" },
  { to: "/today", label: "Today" },
  { to: "/logbook", label: "Logbook" },
  { to: "/lamps", label: "Lamps" },
  { to: "/species", label: "Species" },
  { to: "/practice", label: "Practice" },
];
const NEXT_THEME: Record<Theme, Theme> = { auto: "light", light: "dark", dark: "auto" };
const THEME_ICON = { auto: SunMoon, light: Sun, dark: Moon };

/** The bar at the top of every screen; `children` is what the screen adds. */
export function Header({ children }: { children?: ReactNode }) {
  const { units, setUnits, theme, setTheme } = usePreferences();
  const Icon = THEME_ICON[theme];
  return (
    <header
      id="top"
      className="no-print isolate flex min-h-13 flex-wrap items-center gap-x-4 gap-y-1 border-b border-line bg-panel px-4 py-1.5"
    >
      <Link to="/" className="flex items-center gap-2 rounded font-semibold tracking-tight">
        <Mark />
        {/* A plan needs the room for its own name. */}
        <span className={children ? "max-sm:sr-only lg:max-2xl:sr-only" : "max-sm:sr-only"}>
          Noon Shade
        </span>
      </Link>
      <nav
        aria-label="Main"
        className="-mx-1 flex items-center gap-1 overflow-x-auto px-1 text-sm font-medium max-sm:order-1 max-sm:w-full"
      >
        {PLACES.map((place) => (
          <NavLink
            key={place.to}
            to={place.to}
            end={place.to === "/"}
            className="rounded-md px-2.5 py-1.5 text-soft lg:max-2xl:px-1.5 hover:bg-wash aria-[current=page]:bg-wash aria-[current=page]:text-ink"
          >
            {place.label}
          </NavLink>
        ))}
      </nav>
      <div className="order-last flex w-full min-w-0 flex-wrap items-center gap-x-3 gap-y-1 sm:order-none sm:w-auto sm:flex-1">
        {children}
      </div>
      <div className="ml-auto flex items-center gap-2">
        <Choice
          label="Units"
          value={units}
          onChange={setUnits}
          options={[
            { value: "metric", label: "°C, cm" },
            { value: "imperial", label: "°F, in" },
          ]}
        />
        <Shortcuts />
        <IconButton
          label={`Colours: ${theme}. Change to ${NEXT_THEME[theme]}`}
          onClick={() => setTheme(NEXT_THEME[theme])}
        >
          <Icon size={18} aria-hidden />
        </IconButton>
      </div>
    </header>
  );
}

function Mark() {
  return (
    <svg width="22" height="22" viewBox="0 0 32 32" aria-hidden="true">
      <path d="M4 23 H28 V27 H4Z" className="fill-soil-deep" />
      <path d="M16 5 A10 10 0 0 1 26 15 L16 15Z" fill="#e0963c" />
      <path d="M16 5 A10 10 0 0 0 6 15 L16 15Z" fill="#7c56b0" />
    </svg>
  );
}
