import type { Fixture, Lamp, PlanDocument } from "../api/types";
import type { Projection } from "./projection";

interface FixtureShapeProps {
  fixture: Fixture;
  lamp: Lamp;
  document: PlanDocument;
  projection: Projection;
  selected: boolean;
}

/** A lamp as it hangs, with its beam and its mesh. The emitter is at the fixture's position. */
export function FixtureShape({ fixture, lamp, projection: p, selected }: FixtureShapeProps) {
  const x = p.x(fixture.position_m.x_m);
  const y = p.y(fixture.position_m.z_m);
  // Sockets and reflectors are drawn about 9 cm wide, but never too small to hold.
  const size = Math.min(1.15, Math.max(0.5, p.scale / 400));
  // A tube turned away from the front looks shorter; one that leans shows its slope.
  const seen = Math.max(0.15, Math.abs(Math.cos((fixture.turn_deg * Math.PI) / 180)));
  const half = ((lamp.length_m ?? 0.1) / 2) * p.scale * seen;
  const stroke = selected ? "stroke-accent" : "stroke-ink";
  const glow = lamp.gives_light ? (lamp.uvi_at_reference ? "#b58be0" : "#f0b04e") : "#c96a4a";
  return (
    <g transform={fixture.lean_deg ? `rotate(${-fixture.lean_deg} ${x} ${y})` : undefined}>
      {lamp.kind === "mat" ? (
        <MatShape fixture={fixture} half={half} x={x} y={y} stroke={stroke} selected={selected} />
      ) : lamp.shape === "beam" || lamp.shape === "table" ? (
        <g transform={`translate(${x} ${y}) scale(${size}) translate(${-x} ${-y})`}>
          <path
            d={`M${x - 6} ${y - 22} h12 l3 6 l4 14 a13 6 0 0 1 -26 0 l4 -14z`}
            className={`fill-raised ${stroke}`}
            strokeWidth={selected ? 2.5 : 1.5}
          />
          <ellipse cx={x} cy={y - 1} rx={12} ry={5} fill={glow} />
          <rect x={x - 4} y={y - 28} width={8} height={7} rx={1.5} className="fill-edge" />
        </g>
      ) : (
        <g>
          <path
            d={`M${x - half} ${y + 1} L${x - half + 5} ${y - 9 * size} H${x + half - 5} L${x + half} ${y + 1}Z`}
            className={`fill-raised ${stroke}`}
            strokeWidth={selected ? 2.5 : 1.25}
          />
          <rect
            x={x - half}
            y={y - 3}
            width={2 * half}
            height={6}
            rx={3}
            fill={glow}
            className={stroke}
            strokeWidth={0.75}
          />
        </g>
      )}
      {fixture.guard && (
        <path
          d={`M${x - Math.max(half, 16) - 7} ${y - 24}V${y + 14}H${x + Math.max(half, 16) + 7}V${y - 24}`}
          className="fill-none stroke-ink"
          strokeWidth={2}
          strokeDasharray="5 2"
          data-testid={`guard-${fixture.id}`}
        />
      )}
      {fixture.screen_id && (
        <line
          x1={x - Math.max(half, 22)}
          x2={x + Math.max(half, 22)}
          y1={y + 9}
          y2={y + 9}
          className="stroke-ink"
          strokeWidth={3}
          strokeDasharray="1.5 2.5"
        />
      )}
      <rect
        className="focus-ring fill-none stroke-accent"
        opacity={0}
        strokeWidth={3}
        x={x - Math.max(half, 20) - 5}
        y={y - 34}
        width={2 * Math.max(half, 20) + 10}
        height={50}
        rx={8}
      />
      <rect
        x={x - Math.max(half, 22)}
        y={y - 30}
        width={2 * Math.max(half, 22)}
        height={46}
        fill="transparent"
      />
    </g>
  );
}

interface MatShapeProps {
  fixture: Fixture;
  half: number;
  x: number;
  y: number;
  stroke: string;
  selected: boolean;
}

/** A mat or cable, edge on: under the floor, or upright behind or beside the enclosure. */
function MatShape({ fixture, half, x, y, stroke, selected }: MatShapeProps) {
  const upright = fixture.mount === "left" || fixture.mount === "right";
  const [wide, tall] = upright ? [7, 2 * half] : [2 * half, 7];
  const top = fixture.mount === "floor" ? y + 5 : y - tall / 2;
  const left = fixture.mount === "left" ? x - 12 : fixture.mount === "right" ? x + 5 : x - wide / 2;
  return (
    <rect
      x={left}
      y={top}
      width={wide}
      height={tall}
      rx={2}
      fill="#c96a4a"
      className={stroke}
      strokeWidth={selected ? 2.5 : 1}
      strokeDasharray={fixture.mount === "back" || fixture.mount === "front" ? "4 3" : undefined}
    />
  );
}

/** Edges of a bulb's beam at half strength, down to the ground. */
export function BeamEdges({
  fixture,
  lamp,
  document: d,
  projection: p,
}: Omit<FixtureShapeProps, "selected">) {
  if (!lamp.fwhm_deg) return null;
  const { x_m: x, z_m: z } = fixture.position_m;
  const reach = z - d.substrate.depth_m;
  const aside = Math.min(
    reach * Math.tan((lamp.fwhm_deg * Math.PI) / 360),
    d.enclosure.length_m * 2,
  );
  const edges = `M${p.x(x - aside)} ${p.y(d.substrate.depth_m)} L${p.x(x)} ${p.y(z)} L${p.x(x + aside)} ${p.y(d.substrate.depth_m)}`;
  return (
    <g
      transform={fixture.lean_deg ? `rotate(${-fixture.lean_deg} ${p.x(x)} ${p.y(z)})` : undefined}
      className="pointer-events-none fill-none"
      strokeWidth={1.25}
      strokeDasharray="5 5"
      aria-hidden="true"
    >
      {/* Dark and light dashes in turn, legible over any colour. */}
      <path d={edges} stroke="black" strokeOpacity={0.35} strokeDashoffset={5} />
      <path d={edges} stroke="white" strokeOpacity={0.6} />
    </g>
  );
}
