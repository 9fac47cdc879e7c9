import { Archive, Copy, Download, Ellipsis, Move } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { type ReactNode, useRef } from "react";
import { Link } from "react-router";
import type {
  Catalog,
  EnclosureResults,
  LiveReading,
  PlanSummary,
  RoomLayout,
} from "../../api/types";
import { TightThumbnail } from "../../canvas/Thumbnail";
import { fixed, show } from "../../domain/units/units";
import { usePreferences } from "../../ui/preferences";
import { useOnShow } from "../../ui/useOnShow";
import { onRack, placeOf, stepped, type Way, without } from "./layout";
import { toChange } from "./results";
import { DueLines, Months } from "./Year";

export interface PlanCardProps {
  plan: PlanSummary;
  catalog: Catalog | null;
  results: EnclosureResults | undefined;
  /** How many tasks are open today; undefined while that is not known. */
  tasks: number | undefined;
  live: readonly LiveReading[];
  onShow: (planId: string, isShown: boolean) => void;
  busy: boolean;
  onDuplicate: () => void;
  onArchive: () => void;
  /** The layout of the room, where this enclosure can be moved. */
  layout?: RoomLayout;
  onLayout?: (layout: RoomLayout, done: string) => void;
}

/**
 * One enclosure of the room: its picture, its animal, what fails, this month and the next hard one, what is due.
 * Until it comes on show it is a name, so that a room of hundreds opens at once.
 */
export function PlanCard(props: PlanCardProps) {
  const { plan, catalog, results, tasks, live, onShow } = props;
  const card = useRef<HTMLLIElement>(null);
  const seen = useOnShow(card, (isShown) => onShow(plan.id, isShown));
  const d = plan.document;
  const species = catalog?.species.find((s) => s.id === d.animal.species_id);
  const failing = toChange(results) ?? 0;
  return (
    <li
      ref={card}
      className={`relative flex min-h-40 overflow-hidden rounded-lg border bg-panel [contain-intrinsic-size:auto_9rem] [content-visibility:auto] ${
        failing > 0 ? "border-high" : "border-line"
      }`}
    >
      <Link
        to={`/plans/${plan.id}`}
        className="flex min-w-0 flex-1 gap-2.5 p-2 hover:bg-wash"
        data-testid={`plan-${plan.id}`}
      >
        <span className="grid h-24 w-28 shrink-0 place-items-center overflow-hidden rounded bg-air">
          {seen && <TightThumbnail document={d} catalog={catalog} />}
        </span>
        <span className="min-w-0 flex-1 text-sm leading-tight">
          <h2 className="pr-7 text-base leading-tight font-semibold text-pretty">{plan.name}</h2>
          {seen && (
            <>
              <span className="block truncate text-soft italic">{species?.scientific_name}</span>
              <CheckLine results={results} />
              <ForecastLines results={results} tasks={tasks} />
              <Live readings={live} />
            </>
          )}
        </span>
      </Link>
      {seen && <CardMenu {...props} />}
    </li>
  );
}

function CheckLine({ results }: Pick<PlanCardProps, "results">) {
  const checks = results?.checks;
  const failing = toChange(results);
  return (
    <span className="mt-0.5 block font-semibold" data-testid="check">
      {!checks && <span className="font-normal text-soft">Computing…</span>}
      {checks?.problem && <span className="text-high">Not computed: {checks.problem}</span>}
      {checks &&
        failing !== undefined &&
        (failing > 0 ? (
          <span className="text-high">
            ▲▼ {failing} to change
            {checks.cause && <span className="font-normal">: {checks.cause}</span>}
          </span>
        ) : (
          <span className="text-fit">● nothing fails as computed</span>
        ))}
    </span>
  );
}

function ForecastLines({ results, tasks }: Pick<PlanCardProps, "results" | "tasks">) {
  const forecast = results?.forecast;
  if (!forecast) {
    return (
      <span className="block text-soft" data-testid="year-waits">
        Over the year: computing…
      </span>
    );
  }
  // The line above says so already where the plan cannot be computed at all.
  if (forecast.problem) {
    return results.checks?.problem ? null : (
      <span className="block text-high">Over the year: {forecast.problem}</span>
    );
  }
  return (
    <>
      <Months forecast={forecast} />
      <DueLines forecast={forecast} tasks={tasks} />
    </>
  );
}

const MOST_LIVE = 2;

/** What its loggers read now. */
function Live({ readings }: { readings: readonly LiveReading[] }) {
  const { units } = usePreferences();
  return readings.slice(0, MOST_LIVE).map((r) => (
    <span key={r.label} className="block truncate" data-testid="live">
      {r.label}:{" "}
      {r.temperature_c !== null && <b>{show(r.temperature_c, "temperature", units, 1)}</b>}{" "}
      {r.relative_humidity !== null && <b>{fixed(100 * r.relative_humidity, 0)} %</b>}{" "}
      <span className="text-soft">
        at {new Date(r.at).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" })}
      </span>
    </span>
  ));
}

const WAYS: readonly { way: Way; label: string }[] = [
  { way: "up", label: "Up a shelf" },
  { way: "down", label: "Down a shelf" },
  { way: "left", label: "To the left" },
  { way: "right", label: "To the right" },
];
const MENU = "z-50 min-w-48 rounded-lg border border-edge bg-panel p-1 text-ink shadow-xl";

/** What can be done with an enclosure; its place is chosen, so that it needs neither dragging nor good aim. */
function CardMenu(props: PlanCardProps) {
  const { plan, busy, onDuplicate, onArchive, layout, onLayout } = props;
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label={`Actions for ${plan.name}`}
        className="absolute top-1 right-1 grid size-8 place-items-center rounded-md text-soft hover:bg-wash"
      >
        <Ellipsis size={18} aria-hidden />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" className={MENU}>
          <p className="px-2.5 py-1 text-sm text-soft">Revision {plan.revision}</p>
          {layout && onLayout && (
            <DropdownMenu.Sub>
              <DropdownMenu.SubTrigger className={ITEM}>
                <Move size={16} aria-hidden /> Move
              </DropdownMenu.SubTrigger>
              <DropdownMenu.Portal>
                <DropdownMenu.SubContent className={MENU}>
                  <MoveItems plan={plan} layout={layout} onLayout={onLayout} />
                </DropdownMenu.SubContent>
              </DropdownMenu.Portal>
            </DropdownMenu.Sub>
          )}
          <DropdownMenu.Item asChild>
            <a href={`/api/plans/${plan.id}/export`} className={ITEM}>
              <Download size={16} aria-hidden /> Export
            </a>
          </DropdownMenu.Item>
          <MenuItem disabled={busy} onSelect={onDuplicate}>
            <Copy size={16} aria-hidden /> Duplicate
          </MenuItem>
          <MenuItem onSelect={onArchive}>
            <Archive size={16} aria-hidden /> Archive
          </MenuItem>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

interface MoveItemsProps {
  plan: PlanSummary;
  layout: RoomLayout;
  onLayout: (layout: RoomLayout, done: string) => void;
}

function MoveItems({ plan, layout, onLayout }: MoveItemsProps) {
  const at = placeOf(layout, plan.id);
  const done = `${plan.name} was moved`;
  return (
    <>
      {at &&
        WAYS.map(({ way, label }) => {
          const next = stepped(layout, plan.id, way);
          return (
            <MenuItem key={way} disabled={!next} onSelect={() => next && onLayout(next, done)}>
              {label}
            </MenuItem>
          );
        })}
      {layout.racks
        .filter((_, s) => s !== at?.[0])
        .map((rack) => (
          <MenuItem key={rack.id} onSelect={() => onLayout(onRack(layout, plan.id, rack.id), done)}>
            To “{rack.label}”
          </MenuItem>
        ))}
      {at && (
        <MenuItem onSelect={() => onLayout(without(layout, plan.id), done)}>Off the rack</MenuItem>
      )}
      {!at && layout.racks.length === 0 && (
        <p className="px-2.5 py-1.5 text-sm text-soft">Add a rack first.</p>
      )}
    </>
  );
}

const ITEM =
  "flex min-h-9 cursor-pointer items-center gap-2 rounded px-2.5 text-sm outline-none select-none data-[disabled]:cursor-default data-[disabled]:opacity-45 data-[highlighted]:bg-wash";

interface MenuItemProps {
  disabled?: boolean;
  onSelect: () => void;
  children: ReactNode;
}

function MenuItem({ disabled = false, onSelect, children }: MenuItemProps) {
  return (
    <DropdownMenu.Item disabled={disabled} onSelect={onSelect} className={ITEM}>
      {children}
    </DropdownMenu.Item>
  );
}
