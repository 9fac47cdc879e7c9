import { useMemo } from "react";
import type { Evaluation, Fixture, Furnishing, Lamp, PlanDocument } from "../api/types";
import { extentOf, lampWithin, lidParts, thermostatsOf } from "../domain/plan/document";
import { burrowsOf, zonesOf } from "../domain/plan/ground";
import { onGrid } from "../domain/plan/lengths";
import { snappedAcross, snappedAlong } from "../domain/plan/snap";
import { ventsOf } from "../domain/plan/vents";
import { show } from "../domain/units/units";
import { usePreferences } from "../ui/preferences";
import { useSize } from "../ui/useSize";
import { AnimalFromAbove } from "./AnimalShape";
import { type Axes, EnclosureStage } from "./EnclosureStage";
import type { StageProps } from "./edits";
import { nearest, type Placed, placed } from "./labels";
import { FIRST_SIZE, type Projection, projection, sideRoom } from "./projection";
import { useZoom } from "./useZoom";

/** The enclosure from above, its front at the bottom, with the field at one height over it. */
export function AboveStage(props: StageProps) {
  const { document: d, evaluation, catalog } = props;
  const { units } = usePreferences();
  const [frame, { width, height: tallest }] = useSize<HTMLDivElement>(FIRST_SIZE);
  const { length_m: length, depth_m: depth } = d.enclosure;
  const { left, right, below, above } = sideRoom(d);
  const base = useMemo(
    () =>
      projection({ length_m: length, height_m: depth }, 0.03 + above, width, tallest, {
        left,
        right,
        below,
      }),
    [length, depth, width, tallest, left, right, below, above],
  );
  const [p, zoom] = useZoom(base, frame);
  const view = evaluation?.plan_view ?? null;
  const axes: Axes = {
    from: "above",
    up: "y_m",
    size: { across: length, up: depth },
    where: (x, y) =>
      `${show(x, "length", units)} from the left, ${show(y, "length", units)} from the front`,
    lampLimit: (f, lamp, s, by) => {
      const x_m = by === "keys" ? onGrid(s.x) : snappedAlong(d, s.x);
      const y_m = by === "keys" ? onGrid(s.z) : snappedAcross(d, s.z);
      const at = lampWithin(d, catalog, f, lamp, { ...f.position_m, x_m, y_m });
      return { x: at.x_m, z: at.y_m };
    },
  };
  const basking = evaluation?.places.find((place) => place.kind === "basking");
  const names = useMemo(
    () =>
      placed(
        (evaluation?.places ?? []).map((place) => ({
          id: place.id,
          wanted: [p.x(place.x_m) + 7, p.y(place.y_m) - 8] as const,
          width: NAME_PX * place.label.length,
          height: 16,
        })),
        { x: 0, y: 0, width: p.width, height: p.height },
        thermostatsOf(d).map(({ probe_m: at }) => ({
          x: p.x(at.x_m) - 8,
          y: p.y(at.y_m) - 8,
          width: 16,
          height: 16,
        })),
      ),
    [d, evaluation, p],
  );
  const written = useMemo(() => [...names.values()], [names]);
  const enclosure = { x: p.x(0), y: p.y(depth), width: p.scale * length, height: p.scale * depth };
  const middle = (
    <>
      {basking && (
        <AnimalFromAbove
          document={d}
          catalog={catalog}
          x={basking.x_m}
          y={basking.y_m}
          projection={p}
        />
      )}
      <g aria-hidden="true" className="pointer-events-none">
        {zonesOf(d).map((zone) => (
          <g key={zone.id} data-testid={`ground-${zone.id}`}>
            <rect
              x={p.x(zone.x_m - zone.length_m / 2)}
              y={p.y(zone.y_m + zone.width_m / 2)}
              width={p.scale * zone.length_m}
              height={p.scale * zone.width_m}
              className="fill-low stroke-low"
              fillOpacity={0.1 + 0.3 * zone.wetness}
              strokeDasharray="3 3"
            />
          </g>
        ))}
        {burrowsOf(d).map((burrow) => (
          <g key={burrow.id} className="fill-none stroke-edge" strokeDasharray="4 3">
            <path
              d={`M${p.x(burrow.mouth_x_m)} ${p.y(burrow.mouth_y_m)}L${p.x(burrow.x_m)} ${p.y(burrow.y_m)}`}
            />
            <circle
              cx={p.x(burrow.x_m)}
              cy={p.y(burrow.y_m)}
              r={(p.scale * burrow.diameter_m) / 2}
            />
            <circle
              cx={p.x(burrow.mouth_x_m)}
              cy={p.y(burrow.mouth_y_m)}
              r={0.3 * p.scale * burrow.diameter_m}
              className="fill-ink"
            />
          </g>
        ))}
        {lidParts(d).map((inset) => (
          <rect
            key={`${inset.x0_m} ${inset.y0_m}`}
            x={p.x(inset.x0_m)}
            y={p.y(inset.y1_m)}
            width={p.scale * (inset.x1_m - inset.x0_m)}
            height={p.scale * (inset.y1_m - inset.y0_m)}
            className="fill-none stroke-edge"
            strokeDasharray="8 4"
          />
        ))}
        {ventsOf(d)
          .filter((v) => v.side === "top")
          .map((v) => (
            <circle
              key={`${v.x_m} ${v.y_m}`}
              cx={p.x(v.x_m)}
              cy={p.y(v.y_m ?? 0)}
              r={Math.max(3, p.scale * Math.sqrt(v.area_m2 / Math.PI))}
              className="fill-none stroke-edge"
              strokeDasharray="3 2"
            />
          ))}
        <text
          x={p.x(length / 2)}
          y={p.y(0) + 18}
          textAnchor="middle"
          className="fill-soft text-[12px]"
        >
          front
        </text>
      </g>
    </>
  );

  return (
    <EnclosureStage
      {...props}
      axes={axes}
      projection={p}
      frame={frame}
      fieldSource={view}
      shows={() => true}
      pinAt={view ? { z_m: view.z_m } : {}}
      labels={written}
      zoom={zoom}
      label="The enclosure from above, to scale, its front at the bottom"
      hint={
        view
          ? `At ${show(view.z_m, "length", units)} above the enclosure floor. Drag a lamp or a furnishing to move it.`
          : "Computing the field…"
      }
      testId="stage-above"
      lampTestId="above"
      layers={{
        ground: (
          <rect
            {...enclosure}
            className="fill-none stroke-edge"
            strokeWidth={3}
            aria-hidden="true"
          />
        ),
        middle,
        marks: (
          <g aria-hidden="true" className="pointer-events-none">
            {evaluation?.places.map((place) => (
              <PlaceName key={place.id} place={place} at={names.get(place.id)} p={p} />
            ))}
          </g>
        ),
        furnishing: (item) => <FromAbove item={item} document={d} p={p} />,
        lamp: (f, lamp, isSelected) => (
          <LampFromAbove fixture={f} lamp={lamp} p={p} selected={isSelected} />
        ),
      }}
    />
  );
}

/** Width of a letter of a name, pixels. */
const NAME_PX = 7.2;

/** A place with its name, and a line to it where the name had to go elsewhere. */
function PlaceName({
  place,
  at,
  p,
}: {
  place: Evaluation["places"][number];
  at: Placed | undefined;
  p: Projection;
}) {
  const [x, y] = [p.x(place.x_m), p.y(place.y_m)];
  const end = at ? nearest(at, [x, y]) : null;
  return (
    <g data-testid={`name-${place.id}`}>
      {at?.led && end && (
        <line x1={x} y1={y} x2={end[0]} y2={end[1]} className="stroke-ink" strokeWidth={1} />
      )}
      <circle cx={x} cy={y} r={3} className="fill-raised stroke-ink" strokeWidth={1.5} />
      {at && (
        <text
          x={at.x}
          y={at.y + at.height / 2}
          dy="0.35em"
          className="fill-ink stroke-panel text-[12px] font-semibold"
          strokeWidth={3.5}
          paintOrder="stroke"
        >
          {place.label}
        </text>
      )}
    </g>
  );
}

function FromAbove({
  item,
  document: d,
  p,
}: {
  item: Furnishing;
  document: PlanDocument;
  p: Projection;
}) {
  if (item.type === "branch") {
    const { start_m: a, end_m: b } = item;
    return (
      <line
        x1={p.x(a.x_m)}
        y1={p.y(a.y_m)}
        x2={p.x(b.x_m)}
        y2={p.y(b.y_m)}
        strokeWidth={Math.max(3, p.scale * item.diameter_m)}
        strokeLinecap="round"
        className="stroke-bark"
        opacity={0.7}
      />
    );
  }
  const e = extentOf(d, item);
  const shape = {
    x: p.x(e.x0),
    y: p.y(e.y1),
    width: p.scale * (e.x1 - e.x0),
    height: p.scale * (e.y1 - e.y0),
  };
  switch (item.type) {
    case "leaves":
      return <rect {...shape} rx={10} className="fill-leaf/25 stroke-leaf" strokeDasharray="3 3" />;
    case "water":
      return <rect {...shape} rx={6} className="fill-low/25 stroke-low" strokeWidth={2} />;
    case "background":
      return <rect {...shape} className="fill-bark" opacity={0.8} />;
    case "hide":
      return (
        <rect
          {...shape}
          rx={4}
          className="fill-none stroke-bark"
          strokeWidth={2.5}
          strokeDasharray="6 3"
        />
      );
    case "slab":
      return <rect {...shape} rx={2} className="fill-stone/25 stroke-stone" strokeWidth={2} />;
  }
}

interface LampFromAboveProps {
  fixture: Fixture;
  lamp: Lamp;
  p: Projection;
  selected: boolean;
}

function LampFromAbove({ fixture: f, lamp, p, selected }: LampFromAboveProps) {
  const [x, y] = [p.x(f.position_m.x_m), p.y(f.position_m.y_m)];
  const long = lamp.shape === "line" || lamp.shape === "panel";
  const half = long
    ? ((lamp.length_m ?? 0.1) / 2) * p.scale * Math.cos((f.lean_deg * Math.PI) / 180)
    : 11;
  const wide = lamp.shape === "panel" ? ((lamp.width_m ?? 0.1) / 2) * p.scale : long ? 5 : 11;
  const stroke = selected ? "stroke-accent" : "stroke-ink";
  const glow = lamp.uvi_at_reference ? "#b58be0" : lamp.gives_light ? "#f0b04e" : "#c96a4a";
  return (
    <g transform={`rotate(${-f.turn_deg} ${x} ${y})`}>
      <rect
        x={x - half}
        y={y - wide}
        width={2 * half}
        height={2 * wide}
        rx={long ? 4 : 11}
        fill={glow}
        fillOpacity={lamp.shape === "panel" ? 0.12 : 0.45}
        className={stroke}
        strokeWidth={selected ? 3 : 1.5}
      />
      <rect
        className="focus-ring fill-none stroke-accent"
        opacity={0}
        strokeWidth={3}
        x={x - half - 5}
        y={y - wide - 5}
        width={2 * half + 10}
        height={2 * wide + 10}
        rx={8}
      />
      <rect x={x - half} y={y - 16} width={2 * half} height={32} fill="transparent" />
    </g>
  );
}
