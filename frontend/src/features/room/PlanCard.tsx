import { useQuery } from "@tanstack/react-query";
import { Archive, Copy, Download, Move } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { Link } from "react-router";
import type { Catalog, Forecast, PlanSummary, RoomLayout } from "../../api/types";
import { describe } from "../../app/notices";
import { headroom } from "../../canvas/projection";
import { Contents, type PictureProps, Thumbnail } from "../../canvas/Thumbnail";
import { showSizes } from "../../domain/units/units";
import { IconButton } from "../../ui/Button";
import { usePreferences } from "../../ui/preferences";
import { checkOf, toChange } from "./check";
import { onRack, placeOf, stepped, type Way, without } from "./layout";
import { DueList, Year } from "./Year";

interface PlanCardProps {
  plan: PlanSummary;
  catalog: Catalog | null;
  forecast: Forecast | null;
  busy: boolean;
  onDuplicate: () => void;
  onArchive: () => void;
  /** Pixels a metre, where enclosures are drawn to one scale. */
  scale?: number;
  /** The layout of the room, where this enclosure can be moved. */
  layout?: RoomLayout;
  onLayout?: (layout: RoomLayout, done: string) => void;
}

/** One enclosure of the room: its picture, its animal, its check now and over the year, what is due. */
export function PlanCard(props: PlanCardProps) {
  const { plan, catalog, forecast, scale } = props;
  const { units } = usePreferences();
  const d = plan.document;
  const species = catalog?.species.find((s) => s.id === d.animal.species_id);
  const check = useQuery(checkOf(plan));
  const failed = toChange(check.data);
  const width = scale ? Math.max(190, scale * (d.enclosure.length_m + 0.1)) : undefined;
  return (
    <li
      className="flex flex-col overflow-hidden rounded-xl border border-line bg-panel"
      style={width ? { flex: `1 1 ${width}px`, maxWidth: "100%" } : undefined}
    >
      <Link
        to={`/plans/${plan.id}`}
        className="block flex-1 hover:bg-wash"
        data-testid={`plan-${plan.id}`}
      >
        {scale ? (
          <ScaledPicture document={d} catalog={catalog} scale={scale} />
        ) : (
          <Thumbnail document={d} catalog={catalog} />
        )}
        <div className="px-3 pt-2 pb-2">
          <h2 className="font-semibold">{plan.name}</h2>
          <p className="text-sm text-soft">
            {species?.common_name}, <i>{species?.scientific_name}</i>
          </p>
          <p className="text-sm text-soft">{showSizes(d.enclosure, units)}</p>
          <p className="mt-1 min-h-6 font-semibold">
            {check.isPending && <span className="font-normal text-soft">Computing…</span>}
            {check.isError && <span className="text-high">{describe(check.error).title}</span>}
            {check.data &&
              (failed > 0 ? (
                <span className="text-high">▲▼ {failed} to change</span>
              ) : (
                <span className="text-fit">● nothing fails as computed</span>
              ))}
          </p>
          {forecast && (
            <>
              <Year forecast={forecast} />
              <DueList forecast={forecast} />
            </>
          )}
        </div>
      </Link>
      <CardActions {...props} />
    </li>
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

/** The same, to a scale in pixels for each metre, standing on the lower edge. */
function ScaledPicture({ document: d, catalog, scale }: PictureProps & { scale: number }) {
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
      <Contents document={d} catalog={catalog} p={p} />
    </svg>
  );
}
