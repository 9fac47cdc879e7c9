import clsx from "clsx";
import { ChevronRight, ClipboardList, Frame, SunMoon, Wrench } from "lucide-react";
import type { ComponentType, ReactNode } from "react";
import { Panel, PanelGroup, PanelResizeHandle } from "react-resizable-panels";
import { useMedia } from "../../ui/useMedia";
import type { Headline } from "./headline";

export type PaneName = "drawing" | "checks" | "settings" | "day";

interface PanesProps {
  drawing: ReactNode;
  checks: ReactNode;
  settings: ReactNode;
  /** What opens the drawer, and what is in it while it is open. */
  drawerTabs: ReactNode;
  drawer: ReactNode | null;
  /** Where only one pane is seen at a time: which. */
  pane: PaneName;
  onPane: (pane: PaneName) => void;
  /** What the checks say, once they are known. */
  verdict: Headline | null;
}

/**
 * Drawing, checks, settings and the drawer within the window. Each scrolls for itself; their sizes can be dragged, or
 * changed with arrow keys, and are remembered. Where it is narrow, one is seen at a time.
 */
export function Panes(props: PanesProps) {
  const wide = useMedia("(min-width: 64rem)");
  const large = useMedia("(min-width: 125rem)");
  if (!wide) return <OnePane {...props} />;
  const { drawing, checks, settings, drawerTabs, drawer } = props;
  return (
    <main className="min-h-0 flex-1">
      <PanelGroup direction="horizontal" autoSaveId={large ? "workspace-large" : "workspace"}>
        <Panel
          id="left"
          order={1}
          defaultSize={large ? 64 : 66.5}
          minSize={40}
          className="flex flex-col"
        >
          <PanelGroup direction="vertical" autoSaveId="workspace-drawer">
            <Panel id="drawing-panel" order={1} defaultSize={drawer ? 54 : 100} minSize={30}>
              <Region id="drawing" label="Drawing" className="h-full overflow-hidden">
                {drawing}
              </Region>
            </Panel>
            {drawer && (
              <>
                <Divider label="Height of the drawer" across />
                <Panel id="drawer-panel" order={2} defaultSize={46} minSize={15}>
                  <Region id="below" label="Under the drawing" scrolls className="h-full bg-panel">
                    {drawer}
                  </Region>
                </Panel>
              </>
            )}
          </PanelGroup>
          {drawerTabs}
        </Panel>
        <Divider label="Width of checks and settings" />
        <Panel id="right" order={2} defaultSize={large ? 36 : 33.5} minSize={22}>
          <PanelGroup
            direction={large ? "horizontal" : "vertical"}
            autoSaveId={large ? "workspace-side-large" : "workspace-side"}
          >
            <Panel id="checks-panel" order={1} defaultSize={large ? 50 : 57} minSize={15}>
              <Region id="checks" label="Checks" className="h-full bg-panel">
                {checks}
              </Region>
            </Panel>
            <Divider label="Size of the checks" across={!large} />
            <Panel id="settings-panel" order={2} defaultSize={large ? 50 : 43} minSize={15}>
              <Region id="settings" label="Settings" scrolls className="h-full bg-panel">
                {settings}
              </Region>
            </Panel>
          </PanelGroup>
        </Panel>
      </PanelGroup>
    </main>
  );
}

interface RegionProps {
  id: string;
  label: string;
  className: string;
  /** Whether it scrolls as one; then it can be reached and scrolled by keys. */
  scrolls?: boolean;
  /** Little room: only the picture is shown. */
  small?: boolean;
  children: ReactNode;
}

/** A part of the workspace. What lies in it is isolated, so that a drag in one does not paint the others again. */
function Region({ id, label, className, scrolls, small, children }: RegionProps) {
  return (
    <section
      id={id}
      aria-label={label}
      data-small={small || undefined}
      className={clsx(
        "group relative isolate min-h-0 min-w-0",
        scrolls && "overflow-y-auto",
        className,
      )}
      tabIndex={scrolls ? 0 : undefined}
    >
      {children}
    </section>
  );
}

function Divider({ label, across = false }: { label: string; across?: boolean }) {
  return (
    <PanelResizeHandle
      aria-label={label}
      className={clsx(
        "group relative bg-line outline-none data-[resize-handle-state=drag]:bg-accent focus-visible:bg-accent hover:bg-edge",
        across ? "h-1.5" : "w-1.5",
      )}
    >
      <span
        aria-hidden
        className={clsx(
          "absolute top-1/2 left-1/2 -translate-1/2 rounded-full bg-edge",
          across ? "h-0.5 w-8" : "h-8 w-0.5",
        )}
      />
    </PanelResizeHandle>
  );
}

const NAMES: readonly { name: PaneName; label: string; icon: ComponentType<{ size: number }> }[] = [
  { name: "drawing", label: "Drawing", icon: Frame },
  { name: "checks", label: "Checks", icon: ClipboardList },
  { name: "settings", label: "Settings", icon: Wrench },
  { name: "day", label: "Day, year", icon: SunMoon },
];

/** Narrow: one pane, and a bar under the thumb. The drawing stays in sight above the settings. */
function OnePane(props: PanesProps) {
  const { drawing, checks, settings, drawerTabs, drawer, pane, onPane, verdict } = props;
  const failing = verdict?.failing ?? 0;
  return (
    <>
      <main className="flex min-h-0 flex-1 flex-col">
        {pane === "drawing" && (
          <button
            type="button"
            data-testid="headline"
            onClick={() => onPane("checks")}
            className={clsx(
              "flex min-h-11 shrink-0 items-center gap-2 border-b border-line px-3 text-left font-semibold",
              failing > 0 ? "bg-high-wash text-high" : "bg-panel",
            )}
          >
            <span className="flex-1">{verdict?.text ?? "Computing the climate…"}</span>
            <ChevronRight size={18} aria-hidden className="shrink-0" />
          </button>
        )}
        <Region
          id="drawing"
          label="Drawing"
          small={pane === "settings"}
          className={clsx(
            "overflow-hidden",
            pane === "drawing" ? "flex-1" : pane === "settings" ? "h-[38%] shrink-0" : "hidden",
          )}
        >
          {drawing}
        </Region>
        {pane === "checks" && (
          <Region id="checks" label="Checks" className="flex-1 bg-panel">
            {checks}
          </Region>
        )}
        {pane === "settings" && (
          <Region
            id="settings"
            label="Settings"
            scrolls
            className="flex-1 border-t border-line bg-panel"
          >
            {settings}
          </Region>
        )}
        {pane === "day" && (
          <Region id="below" label="Day, year" scrolls className="flex-1 bg-panel">
            {drawerTabs}
            {drawer}
          </Region>
        )}
      </main>
      <nav
        aria-label="Panes"
        className="no-print flex shrink-0 border-t border-line bg-panel pb-[env(safe-area-inset-bottom)]"
      >
        {NAMES.map(({ name, label, icon: Icon }) => (
          <button
            key={name}
            type="button"
            aria-pressed={pane === name}
            onClick={() => onPane(name)}
            className="relative flex min-h-13 flex-1 flex-col items-center justify-center text-xs text-soft aria-pressed:bg-wash aria-pressed:font-semibold aria-pressed:text-ink"
          >
            <Icon size={20} aria-hidden />
            {label}
            {name === "checks" && failing > 0 && (
              <span className="absolute top-1 left-1/2 ml-1 rounded-full bg-high px-1 text-[11px] leading-4 font-semibold text-panel">
                {failing}
                <span className="sr-only"> to change</span>
              </span>
            )}
          </button>
        ))}
      </nav>
    </>
  );
}
