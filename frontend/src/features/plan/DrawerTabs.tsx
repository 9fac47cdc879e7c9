import { ToggleGroup } from "radix-ui";
import { clock } from "./day/series";

export type Drawer = "day" | "time" | "whatIf" | "build";

const TABS: readonly { value: Drawer; label: string }[] = [
  { value: "day", label: "The day" },
  { value: "time", label: "All conditions" },
  { value: "whatIf", label: "What if" },
  { value: "build", label: "To build" },
];

interface DrawerTabsProps {
  open: Drawer | null;
  onOpen: (drawer: Drawer | null) => void;
  /** Hours the lamps are lit, around noon. */
  photoperiodH: number;
  hour: number;
  onHour: (hour: number) => void;
}

/** The edge of the drawer: what can be pulled up, and the day of the lamps as a strip. */
export function DrawerTabs({ open, onOpen, photoperiodH, hour, onHour }: DrawerTabsProps) {
  const [dawn, dusk] = [12 - photoperiodH / 2, 12 + photoperiodH / 2];
  return (
    <div
      id="drawer"
      className="flex shrink-0 flex-wrap items-center gap-x-3 gap-y-1 border-t border-line bg-panel px-3 py-1"
    >
      <ToggleGroup.Root
        type="single"
        aria-label="Under the drawing"
        value={open ?? ""}
        onValueChange={(next) => onOpen((next || null) as Drawer | null)}
        className="flex flex-wrap gap-1"
      >
        {TABS.map((tab) => (
          <ToggleGroup.Item
            key={tab.value}
            value={tab.value}
            className="min-h-8 rounded-md px-2 text-sm font-medium text-soft hover:bg-wash data-[state=on]:bg-accent data-[state=on]:text-accent-ink"
          >
            {tab.label}
          </ToggleGroup.Item>
        ))}
      </ToggleGroup.Root>
      <button
        type="button"
        aria-label={`Show the day: lit ${clock(dawn)}–${clock(dusk)}`}
        onClick={(event) => {
          const box = event.currentTarget.getBoundingClientRect();
          // A press of Enter has no place on the strip: it shows the hour marked before.
          if (event.detail > 0) onHour((24 * (event.clientX - box.left)) / box.width);
          onOpen("day");
        }}
        className="flex min-h-8 min-w-40 flex-1 items-center gap-2 text-xs text-soft"
      >
        <span
          className="relative h-2.5 flex-1 overflow-hidden rounded-full bg-scale/75"
          aria-hidden
        >
          <span
            className="absolute inset-y-0 bg-[#f2c66b]"
            style={{ left: `${(100 * dawn) / 24}%`, right: `${100 - (100 * dusk) / 24}%` }}
          />
          {open === "day" && (
            <span
              className="absolute inset-y-0 w-1 -translate-x-1/2 bg-high"
              style={{ left: `${(100 * hour) / 24}%` }}
            />
          )}
        </span>
        <span>
          lit {clock(dawn)}–{clock(dusk)}
        </span>
      </button>
    </div>
  );
}
