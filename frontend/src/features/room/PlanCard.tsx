import { Archive, Copy, Download, Move } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { useRef } from "react";
import { Link } from "react-router";
import type { Catalog, EnclosureResults, PlanSummary, RoomLayout } from "../../api/types";
import { headroom, projection } from "../../canvas/projection";
import { Contents, type PictureProps, Thumbnail } from "../../canvas/Thumbnail";
import { showSizes } from "../../domain/units/units";
import { IconButton } from "../../ui/Button";
import { usePreferences } from "../../ui/preferences";
import { useOnShow } from "../../ui/useOnShow";
import { onRack, placeOf, stepped, type Way, without } from "./layout";
import { toChange } from "./results";
import { DueList, Year } from "./Year";

interface PlanCardProps {
  plan: PlanSummary;
  catalog: Catalog | null;
  results: EnclosureResults | undefined;
  onShow: (planId: string, isShown: boolean) => void;
  busy: boolean;
  onDuplicate: () => void;
  onArchive: () => void;
  /** Pixels a metre, where enclosures are drawn to one scale. */
  scale?: number;
  /** The layout of the room, where this enclosure can be moved. */
  layout?: RoomLayout;
  onLayout?: (layout: RoomLayout, done: string) => void;
}

/**
 * One enclosure of the room: its picture, its animal, its check now and over the year, what is due. Until it
 * comes on show it is a name, so that a room of hundreds opens at once.
 */
export function PlanCard(props: PlanCardProps) {
  const { plan, catalog, results, scale, onShow } = props;
  const { units } = usePreferences();
  const card = useRef<HTMLLIElement>(null);
  const seen = useOnShow(card, (isShown) => onShow(plan.id, isShown));
  const d = plan.document;
  const species = catalog?.species.find((s) => s.id === d.animal.species_id);
  const width = scale ? Math.max(190, scale * (d.enclosure.length_m + 0.1)) : undefined;
  return (
    <li
      ref={card}
      className="flex flex-col overflow-hidden rounded-xl border border-line bg-panel [contain-intrinsic-size:auto_20rem] [content-visibility:auto]"
      style={width ? { flex: `1 1 ${width}px`, maxWidth: "100%" } : undefined}
    >
      <Link
        to={`/plans/${plan.id}`}
        className="block flex-1 hover:bg-wash"
        data-testid={`plan-${plan.id}`}
      >
        <Picture document={d} catalog={catalog} scale={scale} drawn={seen} />
        <div className="px-3 pt-2 pb-2">
          <h2 className="font-semibold">{plan.name}</h2>
          {seen && (
            <>
              <p className="text-sm text-soft">
                {species?.common_name}, <i>{species?.scientific_name}</i>
              </p>
              <p className="text-sm text-soft">{showSizes(d.enclosure, units)}</p>
              <CheckLine results={results} />
              <ForecastLines results={results} />
            </>
          )}
        </div>
      </Link>
      {seen && <CardActions {...props} />}
    </li>
  );
}

function CheckLine({ results }: Pick<PlanCardProps, "results">) {
  const failing = toChange(results);
  return (
    <p className="mt-1 min-h-6 font-semibold" data-testid="check">
      {!results?.checks && <span className="font-normal text-soft">Computing…</span>}
      {results?.checks?.problem && (
        <span className="text-high">Not computed: {results.checks.problem}</span>
      )}
      {failing !== undefined &&
        (failing > 0 ? (
          <span className="text-high">▲▼ {failing} to change</span>
        ) : (
          <span className="text-fit">● nothing fails as computed</span>
        ))}
    </p>
  );
}

function ForecastLines({ results }: Pick<PlanCardProps, "results">) {
  const forecast = results?.forecast;
  if (!forecast) {
    return (
      <p className="text-sm text-soft" data-testid="year-waits">
        Over the year: computing…
      </p>
    );
  }
  // The line above says so already where the plan cannot be computed at all.
  if (forecast.problem) {
    return results.checks?.problem ? null : (
      <p className="text-sm text-high">Over the year: {forecast.problem}</p>
    );
  }
  return (
    <>
      <Year forecast={forecast} />
      <DueList forecast={forecast} />
    </>
  );
}

function CardActions(props: PlanCardProps) {
  const { plan, busy, onDuplicate, onArchive, layout, onLayout } = props;
  return (
    <div className="flex items-center justify-between border-t border-line px-1 py-0.5 text-sm text-soft">
      <span className="px-2">revision {plan.revision}</span>
      <span className="flex">
        {layout && onLayout && <MoveMenu plan={plan} layout={layout} onLayout={onLayout} />}
        <a
          href={`/api/plans/${plan.id}/export`}
          aria-label={`Export ${plan.name}`}
          className="inline-grid size-9 place-items-center rounded-md hover:bg-wash"
        >
          <Download size={17} aria-hidden />
        </a>
        <IconButton label={`Duplicate ${plan.name}`} disabled={busy} onClick={onDuplicate}>
          <Copy size={17} aria-hidden />
        </IconButton>
        <IconButton label={`Archive ${plan.name}`} onClick={onArchive}>
          <Archive size={17} aria-hidden />
        </IconButton>
      </span>
    </div>
  );
}

const WAYS: readonly { way: Way; label: string }[] = [
  { way: "up", label: "Up a shelf" },
  { way: "down", label: "Down a shelf" },
  { way: "left", label: "To the left" },
  { way: "right", label: "To the right" },
];

interface MoveMenuProps {
  plan: PlanSummary;
  layout: RoomLayout;
  onLayout: (layout: RoomLayout, done: string) => void;
}

/** The place of the enclosure, chosen from a menu, so that it needs neither dragging nor good aim. */
function MoveMenu({ plan, layout, onLayout }: MoveMenuProps) {
  const at = placeOf(layout, plan.id);
  const done = `${plan.name} was moved`;
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label={`Move ${plan.name}`}
        className="inline-grid size-9 place-items-center rounded-md hover:bg-wash"
      >
        <Move size={17} aria-hidden />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          className="z-50 min-w-48 rounded-lg border border-edge bg-panel p-1 text-ink shadow-xl"
        >
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
              <MenuItem
                key={rack.id}
                onSelect={() => onLayout(onRack(layout, plan.id, rack.id), done)}
              >
                To “{rack.label}”
              </MenuItem>
            ))}
          {at && (
            <MenuItem onSelect={() => onLayout(without(layout, plan.id), done)}>
              Off the rack
            </MenuItem>
          )}
          {!at && layout.racks.length === 0 && (
            <p className="px-2.5 py-1.5 text-sm text-soft">Add a rack first.</p>
          )}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

interface MenuItemProps {
  disabled?: boolean;
  onSelect: () => void;
  children: React.ReactNode;
}

function MenuItem({ disabled = false, onSelect, children }: MenuItemProps) {
  return (
    <DropdownMenu.Item
      disabled={disabled}
      onSelect={onSelect}
      className="flex min-h-9 cursor-pointer items-center rounded px-2.5 text-sm outline-none select-none data-[disabled]:cursor-default data-[disabled]:opacity-45 data-[highlighted]:bg-wash"
    >
      {children}
    </DropdownMenu.Item>
  );
}

interface CardPictureProps extends PictureProps {
  scale: number | undefined;
  /** Whether it has come on show; until then its place is left free. */
  drawn: boolean;
}

/** The enclosure from the front, filling its card, or to a scale in pixels for each metre. */
function Picture({ document: d, catalog, scale, drawn }: CardPictureProps) {
  if (scale) return <ScaledPicture document={d} catalog={catalog} scale={scale} drawn={drawn} />;
  if (drawn) return <Thumbnail document={d} catalog={catalog} />;
  const { height } = projection(d.enclosure, headroom(d), 400, 230);
  return <div className="w-full bg-air" style={{ aspectRatio: `400 / ${height}` }} />;
}

interface ScaledPictureProps extends PictureProps {
  scale: number;
  drawn: boolean;
}

/** The enclosure to a scale in pixels for each metre, standing on the lower edge. */
function ScaledPicture({ document: d, catalog, scale, drawn }: ScaledPictureProps) {
  const over = headroom(d);
  const [wide, tall] = [
    scale * (d.enclosure.length_m + 0.1),
    scale * (d.enclosure.height_m + over + 0.04),
  ];
  const floor = tall - 0.02 * scale;
  const left = 0.05 * scale;
  const p = {
    scale,
    width: wide,
    height: tall,
    x: (m: number) => left + scale * m,
    y: (z: number) => floor - scale * z,
    toX: (px: number) => (px - left) / scale,
    toZ: (px: number) => (floor - px) / scale,
  };
  return (
    <svg
      viewBox={`0 0 ${wide} ${tall}`}
      width={wide}
      height={tall}
      className="mx-auto block max-w-full bg-air"
      aria-hidden="true"
    >
      {drawn && <Contents document={d} catalog={catalog} p={p} />}
    </svg>
  );
}
