import {
  BookOpen,
  CircleHelp,
  Lightbulb,
  ListChecks,
  Menu,
  Moon,
  PawPrint,
  Puzzle,
  Search,
  Sun,
  SunMoon,
  Warehouse,
} from "lucide-react";
import { Popover } from "radix-ui";
import type { ReactNode } from "react";
import { Link, NavLink } from "react-router";
import { Choice } from "../ui/Choice";
import { type Theme, usePreferences } from "../ui/preferences";
import { useMedia } from "../ui/useMedia";
import { useOpenCommands } from "./commands";

const PLACES = [
  { to: "/", label: "Room", icon: Warehouse },
  { to: "/today", label: "Today", icon: ListChecks },
  { to: "/logbook", label: "Logbook", icon: BookOpen },
  { to: "/lamps", label: "Lamps", icon: Lightbulb },
  { to: "/species", label: "Species", icon: PawPrint },
  { to: "/practice", label: "Practice", icon: Puzzle },
];
const NEXT_THEME: Record<Theme, Theme> = { auto: "light", light: "dark", dark: "auto" };
const THEME_ICON = { auto: SunMoon, light: Sun, dark: Moon };
const THEME_WORD = { auto: "Auto", light: "Light", dark: "Dark" };

/** A picture above its word. */
const TILE =
  "flex w-14 min-h-12 flex-col items-center justify-center gap-0.5 rounded-md text-xs leading-tight text-soft hover:bg-wash hover:text-ink aria-[current=page]:bg-wash aria-[current=page]:font-semibold aria-[current=page]:text-ink";

/**
 * The ways through the application: down the left side, or along the top where it is narrow. `children` is what the
 * screen adds: a bar at the top.
 */
export function Header({ children }: { children?: ReactNode }) {
  return useMedia("(min-width: 48rem)") ? (
    <>
      <Rail />
      {children && <Bar>{children}</Bar>}
    </>
  ) : (
    <NarrowTop>{children}</NarrowTop>
  );
}

function Bar({ children }: { children: ReactNode }) {
  return (
    <header
      id="top"
      className="no-print isolate flex min-h-13 flex-wrap items-center gap-x-3 gap-y-1 border-b border-line bg-panel px-3 py-1"
    >
      {children}
    </header>
  );
}

function Rail() {
  return (
    <nav
      aria-label="Main"
      data-rail
      className="no-print fixed inset-y-0 left-0 z-20 flex w-16 flex-col items-center overflow-y-auto border-r border-line bg-panel py-2"
    >
      <Home />
      <div className="mt-2 flex flex-col gap-1">
        <Find />
        {PLACES.map(({ to, label, icon: Icon }) => (
          <NavLink key={to} to={to} end={to === "/"} className={TILE}>
            <Icon size={19} aria-hidden />
            {label}
          </NavLink>
        ))}
      </div>
      <div className="mt-auto flex flex-col items-center gap-1 pt-2">
        <HelpLink />
        <ThemeButton />
        <Units />
      </div>
    </nav>
  );
}

function NarrowTop({ children }: { children?: ReactNode }) {
  return (
    <header id="top" className="no-print isolate border-b border-line bg-panel px-3 py-1">
      {/* What the screen adds may go into rows below, by its order. */}
      <div className="flex min-h-11 flex-wrap items-center gap-x-2">
        <Home />
        {children ?? <span className="flex-1 font-semibold tracking-tight">Noon Shade</span>}
        <Popover.Root>
          <Popover.Trigger
            aria-label="Menu"
            className="order-1 ml-auto grid size-11 shrink-0 place-items-center rounded-md hover:bg-wash"
          >
            <Menu size={22} aria-hidden />
          </Popover.Trigger>
          <Popover.Portal>
            <Popover.Content
              align="end"
              sideOffset={4}
              collisionPadding={8}
              className="z-50 rounded-lg border border-edge bg-panel p-3 shadow-xl"
            >
              {children && (
                <nav aria-label="Main" className="mb-2 grid grid-cols-3 gap-1">
                  {PLACES.map(({ to, label, icon: Icon }) => (
                    <Popover.Close key={to} asChild>
                      <NavLink to={to} end={to === "/"} className={`${TILE} w-20`}>
                        <Icon size={20} aria-hidden />
                        {label}
                      </NavLink>
                    </Popover.Close>
                  ))}
                </nav>
              )}
              <div className="flex items-center gap-2">
                <Find />
                <Units />
                <HelpLink />
                <ThemeButton />
              </div>
            </Popover.Content>
          </Popover.Portal>
        </Popover.Root>
      </div>
      {!children && (
        <nav aria-label="Main" className="-mx-1 flex overflow-x-auto px-1 text-sm font-medium">
          {PLACES.map((place) => (
            <NavLink
              key={place.to}
              to={place.to}
              end={place.to === "/"}
              className="grid min-h-11 place-items-center rounded-md px-2.5 text-soft hover:bg-wash aria-[current=page]:bg-wash aria-[current=page]:text-ink"
            >
              {place.label}
            </NavLink>
          ))}
        </nav>
      )}
    </header>
  );
}

function Home() {
  return (
    <Link
      to="/"
      aria-label="Noon Shade"
      className="-order-1 grid size-11 place-items-center rounded-md"
    >
      <Mark />
    </Link>
  );
}

function Find() {
  const open = useOpenCommands();
  return (
    <button
      type="button"
      title="Find an enclosure or an action: Ctrl K"
      aria-keyshortcuts="Control+K"
      onClick={open}
      className={TILE}
    >
      <Search size={19} aria-hidden />
      Find
    </button>
  );
}

function HelpLink() {
  return (
    <NavLink to="/help" title="How to go about it, words, keys" className={TILE}>
      <CircleHelp size={18} aria-hidden />
      Help
    </NavLink>
  );
}

function Units() {
  const { units, setUnits } = usePreferences();
  return (
    <Choice
      label="Units"
      narrow
      value={units}
      onChange={setUnits}
      options={[
        { value: "metric", label: "°C, cm" },
        { value: "imperial", label: "°F, in" },
      ]}
    />
  );
}

function ThemeButton() {
  const { theme, setTheme } = usePreferences();
  const Icon = THEME_ICON[theme];
  return (
    <button
      type="button"
      aria-label={`Colours: ${theme}. Change to ${NEXT_THEME[theme]}`}
      title={`Colours: ${theme}. Change to ${NEXT_THEME[theme]}`}
      onClick={() => setTheme(NEXT_THEME[theme])}
      className={TILE}
    >
      <Icon size={18} aria-hidden />
      {THEME_WORD[theme]}
    </button>
  );
}

function Mark() {
  return (
    <svg width="26" height="26" viewBox="0 0 32 32" aria-hidden="true">
      <path d="M4 23 H28 V27 H4Z" className="fill-soil-deep" />
      <path d="M16 5 A10 10 0 0 1 26 15 L16 15Z" fill="#e0963c" />
      <path d="M16 5 A10 10 0 0 0 6 15 L16 15Z" fill="#7c56b0" />
    </svg>
  );
}
