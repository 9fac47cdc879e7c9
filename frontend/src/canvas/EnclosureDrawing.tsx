import { memo, type ReactNode, useId } from "react";
import type {
  Background,
  Branch,
  Furnishing,
  Hide,
  Leaves,
  PlanDocument,
  Slab,
  Water,
} from "../api/types";
import { extentOf } from "../domain/plan/document";
import { bandsOf } from "../domain/plan/ground";
import { ventSize } from "../domain/plan/vents";
import { usePreferences } from "../ui/preferences";
import { grainColour, groundColour } from "./groundColours";
import { isStone } from "./materials";
import { type Projection, SHEET_M } from "./projection";

interface EnclosureDrawingProps {
  enclosure: PlanDocument["enclosure"];
  substrate: PlanDocument["substrate"];
  projection: Projection;
}

/** Inside of a burrow. */
const HOLLOW = "#2a211b";

type WallKey = "left" | "right" | "top" | "floor";

/** The enclosure itself in section: walls, mesh, vents, substrate. */
export const EnclosureDrawing = memo(function EnclosureDrawing({
  enclosure,
  substrate,
  projection: p,
}: EnclosureDrawingProps) {
  const { dark } = usePreferences();
  const ground = useId();
  const { length_m: l, height_m: h, walls } = enclosure;
  const t = (key: WallKey) => {
    const wall = walls[key];
    return wall.kind === "solid" ? Math.max(wall.thickness_m, SHEET_M) : SHEET_M;
  };
  return (
    <g aria-hidden="true" className="pointer-events-none">
      {bandsOf(substrate).map((band) => (
        <g key={band.low} data-testid="ground-band">
          <rect
            x={p.x(0)}
            y={p.y(band.high)}
            width={p.scale * l}
            height={p.scale * (band.high - band.low)}
            fill={groundColour(band.mix, dark)}
          />
          <Grains
            length={l}
            low={band.low}
            high={band.high}
            colour={grainColour(band.mix, dark)}
            projection={p}
          />
          {band.barrier && (
            <path
              d={`M${p.x(0)} ${p.y(band.high)}H${p.x(l)}`}
              className="stroke-ink"
              strokeWidth={1.5}
              strokeDasharray="4 3"
            />
          )}
        </g>
      ))}
      <clipPath id={ground}>
        <rect x={p.x(0)} y={p.y(substrate.depth_m)} width={p.scale * l} height="100%" />
      </clipPath>
      {(substrate.burrows ?? []).map((burrow) => {
        const wide = p.scale * burrow.diameter_m;
        const deep = substrate.depth_m - burrow.depth_m;
        return (
          <g key={burrow.id} clipPath={`url(#${ground})`} data-testid={`hollow-${burrow.id}`}>
            <path
              d={`M${p.x(burrow.mouth_x_m)} ${p.y(substrate.depth_m)}L${p.x(burrow.x_m)} ${p.y(deep)}`}
              stroke={HOLLOW}
              strokeWidth={0.6 * wide}
            />
            <ellipse
              cx={p.x(burrow.x_m)}
              cy={p.y(deep)}
              rx={0.7 * wide}
              ry={0.5 * wide}
              fill={HOLLOW}
            />
          </g>
        );
      })}
      {(substrate.zones ?? []).map((zone) => (
        <rect
          key={zone.id}
          x={p.x(zone.x_m - zone.length_m / 2)}
          y={p.y(substrate.depth_m)}
          width={p.scale * zone.length_m}
          height={Math.min(5, p.scale * substrate.depth_m)}
          className="fill-low"
          opacity={0.25 + 0.6 * zone.wetness}
        />
      ))}
      <WallStrip wall={walls.left} x={-t("left")} z={0} w={t("left")} h={h} projection={p} />
      <WallStrip wall={walls.right} x={l} z={0} w={t("right")} h={h} projection={p} />
      <WallStrip
        wall={walls.top}
        x={-t("left")}
        z={h}
        w={l + t("left") + t("right")}
        h={t("top")}
        projection={p}
      />
      {(enclosure.insets ?? []).map((inset) => (
        <InsetShape
          key={JSON.stringify(inset)}
          inset={inset}
          enclosure={enclosure}
          t={t}
          projection={p}
        />
      ))}
      <WallStrip
        wall={walls.floor}
        x={-t("left")}
        z={-t("floor")}
        w={l + t("left") + t("right")}
        h={t("floor")}
        projection={p}
      />
      {(enclosure.vents ?? [])
        .filter((v) => v.side === "left" || v.side === "right")
        .map((v) => {
          const size = ventSize(v);
          const x = v.side === "left" ? -t("left") : l;
          const w = t(v.side === "left" ? "left" : "right");
          return (
            <rect
              key={`${v.side}${v.z_m}`}
              x={p.x(x) - 1}
              y={p.y(v.z_m + size / 2)}
              width={p.scale * w + 2}
              height={p.scale * size}
              className="fill-ground stroke-edge"
              strokeDasharray="2 2"
            />
          );
        })}
    </g>
  );
});

interface InsetShapeProps {
  inset: NonNullable<PlanDocument["enclosure"]["insets"]>[number];
  enclosure: PlanDocument["enclosure"];
  t: (key: WallKey) => number;
  projection: Projection;
}

/** A part of the lid or a side: on the wall it is in, or as an outline where it is seen from the front. */
function InsetShape({ inset, enclosure, t, projection: p }: InsetShapeProps) {
  const { x0_m: x0, x1_m: x1, y0_m: y0, y1_m: y1, wall } = inset;
  const face = inset.face ?? "top";
  if (face === "front" || face === "back") {
    return (
      <rect
        x={p.x(x0)}
        y={p.y(y1)}
        width={p.scale * (x1 - x0)}
        height={p.scale * (y1 - y0)}
        className="fill-none stroke-edge"
        strokeOpacity={0.6}
        strokeDasharray={wall.kind === "solid" ? "10 4" : "2 3"}
      />
    );
  }
  const size = t(face);
  const [x, z, w, h] =
    face === "top"
      ? [x0, enclosure.height_m, x1 - x0, size]
      : [face === "left" ? -size : enclosure.length_m, y0, size, y1 - y0];
  return (
    <g>
      <rect
        x={p.x(x)}
        y={p.y(z + h)}
        width={p.scale * w}
        height={p.scale * h}
        className="fill-ground"
      />
      <WallStrip wall={wall} x={x} z={z} w={w} h={h} projection={p} />
    </g>
  );
}

interface WallStripProps {
  wall: PlanDocument["enclosure"]["walls"]["top"];
  x: number;
  z: number;
  w: number;
  h: number;
  projection: Projection;
}

function WallStrip({ wall, x, z, w, h, projection: p }: WallStripProps) {
  if (wall.kind === "open") return null;
  const mesh = wall.kind === "mesh";
  return (
    <rect
      x={p.x(x)}
      y={p.y(z + h)}
      width={p.scale * w}
      height={p.scale * h}
      className={mesh ? "fill-none stroke-edge" : "fill-board stroke-edge"}
      strokeWidth={mesh ? 1.5 : 0.75}
      strokeDasharray={mesh ? "2 2.5" : undefined}
    />
  );
}

interface GrainsProps {
  length: number;
  low: number;
  high: number;
  colour: string;
  projection: Projection;
}

/** A few fixed specks, so that substrate reads as loose ground. */
function Grains({ length, low, high, colour, projection: p }: GrainsProps) {
  const depth = high - low;
  const grains: ReactNode[] = [];
  const count = Math.min(260, Math.round((length * depth) / 0.00045));
  for (let i = 0; i < count; i++) {
    // Low-discrepancy placement: even, and the same every time.
    const u = (i * 0.7548776662466927 + 0.31) % 1;
    const v = (i * 0.5698402909980532 + 0.17) % 1;
    grains.push(
      <circle
        key={i}
        cx={p.x(u * length)}
        cy={p.y(low + v * depth)}
        r={0.7 + 0.8 * ((i * 0.38) % 1)}
        fill={colour}
      />,
    );
  }
  return <g>{grains}</g>;
}

interface FurnishingShapeProps {
  item: Furnishing;
  document: PlanDocument;
  projection: Projection;
}

/** A furnishing in section, from the front. */
export function FurnishingShape({ item, document: d, projection: p }: FurnishingShapeProps) {
  const ground = d.substrate.depth_m;
  switch (item.type) {
    case "slab":
      return <SlabShape slab={item} ground={ground} p={p} />;
    case "hide":
      return <HideShape hide={item} ground={ground} p={p} />;
    case "branch":
      return <BranchShape branch={item} p={p} />;
    case "leaves":
      return <LeavesShape leaves={item} document={d} p={p} />;
    case "background":
      return <BackgroundShape background={item} document={d} p={p} />;
    case "water":
      return <WaterShape water={item} document={d} p={p} />;
  }
}

function WaterShape({
  water,
  document: d,
  p,
}: {
  water: Water;
  document: PlanDocument;
  p: Projection;
}) {
  const e = extentOf(d, water);
  const [x0, x1, y0, y1] = [p.x(e.x0), p.x(e.x1), p.y(e.z1), p.y(e.z0)];
  return (
    <g>
      <path d={`M${x0} ${y0}V${y1}H${x1}V${y0}Z`} className="fill-low" opacity={0.35} />
      <path d={`M${x0} ${y0}V${y1}H${x1}V${y0}`} className="fill-none stroke-low" strokeWidth={2} />
      <path d={`M${x0 + 3} ${y0 + 1}H${x1 - 3}`} className="stroke-low" strokeDasharray="7 4" />
    </g>
  );
}

function BranchShape({ branch, p }: { branch: Branch; p: Projection }) {
  const { start_m: a, end_m: b, diameter_m: wide } = branch;
  const ends = { x1: p.x(a.x_m), y1: p.y(a.z_m), x2: p.x(b.x_m), y2: p.y(b.z_m) };
  return (
    <g strokeLinecap="round">
      <line {...ends} className="stroke-bark" strokeWidth={Math.max(3, p.scale * wide)} />
      <line {...ends} stroke="black" strokeOpacity={0.25} strokeWidth={1} strokeDasharray="9 5" />
    </g>
  );
}

function LeavesShape({
  leaves,
  document: d,
  p,
}: {
  leaves: Leaves;
  document: PlanDocument;
  p: Projection;
}) {
  const e = extentOf(d, leaves);
  const [wide, tall] = [p.scale * (e.x1 - e.x0), p.scale * (e.z1 - e.z0)];
  const count = Math.max(8, Math.round((1 - leaves.porosity) * (wide * tall) * 0.012));
  return (
    <g>
      <rect
        x={p.x(e.x0)}
        y={p.y(e.z1)}
        width={wide}
        height={tall}
        rx={Math.min(14, tall / 3)}
        className="fill-leaf/15 stroke-leaf"
        strokeDasharray="3 3"
      />
      {Array.from({ length: count }, (_, i) => {
        const [u, v] = [(i * 0.7548776662 + 0.2) % 1, (i * 0.569840291 + 0.4) % 1];
        const [x, y] = [p.x(e.x0) + 7 + u * (wide - 14), p.y(e.z1) + 5 + v * (tall - 10)];
        return (
          <ellipse
            key={i}
            cx={x}
            cy={y}
            rx={6.5}
            ry={2.6}
            transform={`rotate(${(i * 67) % 180} ${x} ${y})`}
            className="fill-leaf"
            opacity={0.75}
          />
        );
      })}
    </g>
  );
}

function BackgroundShape({
  background,
  document: d,
  p,
}: {
  background: Background;
  document: PlanDocument;
  p: Projection;
}) {
  // Seen from the front, only what lines the ends shows in section.
  if (background.side === "front" || background.side === "back") return null;
  const e = extentOf(d, background);
  return (
    <rect
      x={p.x(e.x0)}
      y={p.y(e.z1)}
      width={Math.max(3, p.scale * (e.x1 - e.x0))}
      height={p.scale * (e.z1 - d.substrate.depth_m)}
      className="fill-bark"
      opacity={0.8}
    />
  );
}

function SlabShape({ slab, ground, p }: { slab: Slab; ground: number; p: Projection }) {
  const base = ground + slab.underside_m;
  const stack = slab.stack;
  const fill = isStone(slab.material_id) ? "fill-stone" : "fill-bark";
  return (
    <g>
      {stack && slab.underside_m > 0 && (
        <g>
          {[0, 1, 2].map((i) => {
            const part = slab.underside_m / 3;
            const inset = (i % 2) * 0.012;
            return (
              <rect
                key={i}
                x={p.x(slab.x_m - stack.length_m / 2 + inset)}
                y={p.y(ground + part * (i + 1))}
                width={p.scale * (stack.length_m - 2 * inset)}
                height={p.scale * part - 1}
                rx={3}
                className={fill}
                opacity={0.85}
              />
            );
          })}
        </g>
      )}
      <rect
        x={p.x(slab.x_m - slab.length_m / 2)}
        y={p.y(base + slab.thickness_m)}
        width={p.scale * slab.length_m}
        height={p.scale * slab.thickness_m}
        rx={2}
        className={fill}
      />
    </g>
  );
}

function HideShape({ hide, ground, p }: { hide: Hide; ground: number; p: Projection }) {
  const [x0, x1] = [hide.x_m - hide.length_m / 2, hide.x_m + hide.length_m / 2];
  const top = ground + hide.height_m;
  const w = hide.wall_m;
  const door = Math.min(hide.opening_height_m, hide.height_m - w);
  const left = hide.opening === "left" ? door : 0;
  const right = hide.opening === "right" ? door : 0;
  const px = (m: number) => p.x(m).toFixed(1);
  const py = (z: number) => p.y(z).toFixed(1);
  const r = Math.min(0.03, hide.height_m / 3) * p.scale;
  const outline =
    `M${px(x0)} ${py(ground + left)} V${(p.y(top) + r).toFixed(1)} Q${px(x0)} ${py(top)} ${(p.x(x0) + r).toFixed(1)} ${py(top)}` +
    ` H${(p.x(x1) - r).toFixed(1)} Q${px(x1)} ${py(top)} ${px(x1)} ${(p.y(top) + r).toFixed(1)} V${py(ground + right)}` +
    ` H${px(x1 - w)} V${py(top - w)} H${px(x0 + w)} V${py(ground + left)} Z`;
  const front = hide.opening === "front";
  return (
    <g>
      {hide.opening !== "front" && hide.opening !== "left" && hide.opening !== "right" ? (
        <rect
          x={p.x(x0)}
          y={p.y(top)}
          width={p.scale * (x1 - x0)}
          height={p.scale * hide.height_m}
          rx={r}
          className="fill-bark"
          opacity={0.9}
        />
      ) : (
        <path d={outline} className="fill-bark" />
      )}
      {front && (
        <rect
          x={p.x(hide.x_m - hide.opening_width_m / 2)}
          y={p.y(ground + door)}
          width={p.scale * hide.opening_width_m}
          height={p.scale * door}
          className="fill-none stroke-bark"
          strokeWidth={1.5}
          strokeDasharray="3 2"
        />
      )}
    </g>
  );
}
