import clsx from "clsx";
import type { ReactNode } from "react";
import { SettledMain } from "../../ui/Settled";

interface EnclosurePageProps {
  /** The bar of the enclosure. */
  bar: ReactNode;
  /** What is looked at first, and wide. */
  main: ReactNode;
  /** What stands beside it; below it where it is narrow. */
  side?: ReactNode;
  mainLabel: string;
  sideLabel?: string;
}

/** A place of an enclosure within the window: its columns scroll, the page does not. */
export function EnclosurePage({ bar, main, side, mainLabel, sideLabel }: EnclosurePageProps) {
  return (
    <div className="flex h-dvh flex-col overflow-hidden print:h-auto print:overflow-visible">
      {bar}
      <SettledMain
        className={clsx(
          "min-h-0 flex-1 overflow-y-auto lg:grid lg:overflow-hidden print:overflow-visible",
          side && "lg:grid-cols-[minmax(0,1fr)_minmax(25rem,38%)]",
        )}
      >
        <Column label={mainLabel}>{main}</Column>
        {side && <Column label={sideLabel ?? ""}>{side}</Column>}
      </SettledMain>
    </div>
  );
}

function Column({ label, children }: { label: string; children: ReactNode }) {
  return (
    <section
      aria-label={label}
      className="min-h-0 min-w-0 space-y-3 p-3 lg:overflow-y-auto print:overflow-visible"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls can be scrolled by keys
      tabIndex={0}
    >
      {children}
    </section>
  );
}
