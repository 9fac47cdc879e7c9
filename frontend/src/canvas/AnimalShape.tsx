import type { Catalog, PlanDocument } from "../api/types";
import type { Projection } from "./projection";
import { COIL_SHARE, pathOf, poseBetween, silhouette } from "./silhouettes";

interface AnimalProps {
  document: PlanDocument;
  catalog: Catalog | null;
  /** The middle of its body. */
  x: number;
  projection: Projection;
}

/** Of a species that is not in the catalogue: bodies so much longer than they are high are snakes'. */
const LONG = 12;

/** The group of a plan's animal, which decides how it is drawn. */
export const groupOf = (d: PlanDocument, catalog: Catalog | null): string => {
  const { body_length_m: long, back_height_m: high, species_id } = d.animal;
  const known = catalog?.species.find((s) => s.id === species_id)?.group;
  return known ?? (long > LONG * high ? "snake" : "lizard");
};

/** The middle of a coil of so much across, kept between two walls. */
export const keptInside = (at: number, across: number, high: number): number =>
  Math.min(Math.max(at, across / 2), Math.max(high - across / 2, across / 2));

function Body({ path, testId }: { path: string; testId: string }) {
  return (
    <path
      d={path}
      className="pointer-events-none fill-ink stroke-ground"
      strokeWidth={1.2}
      aria-hidden="true"
      data-testid={testId}
    />
  );
}

/** The animal to scale from the front, standing at a height. */
export function Animal({ document: d, catalog, x, z, projection: p }: AnimalProps & { z: number }) {
  const { body_length_m: long, back_height_m: high } = d.animal;
  const group = groupOf(d, catalog);
  if (group === "snake") {
    const tall = 2 * high * p.scale;
    const wide = COIL_SHARE * long;
    const at = keptInside(x, wide, d.enclosure.length_m);
    return (
      <g className="pointer-events-none fill-ink stroke-ground" aria-hidden="true">
        {[1, 0.6].map((share, i) => (
          <rect
            key={share}
            x={p.x(at) - (share * wide * p.scale) / 2}
            y={p.y(z) - (i + 1) * (tall / 2)}
            width={share * wide * p.scale}
            height={tall / 2}
            rx={tall / 4}
          />
        ))}
      </g>
    );
  }
  const { side } = silhouette(group);
  const pose = poseBetween(side, x, long, 0, d.enclosure.length_m);
  return <Body path={pathOf(side, pose, long, p.x, (y) => p.y(z + y * high))} testId="animal" />;
}

/** The animal to scale from above. */
export function AnimalFromAbove({
  document: d,
  catalog,
  x,
  y,
  projection: p,
}: AnimalProps & { y: number }) {
  const { body_length_m: long, back_height_m: high } = d.animal;
  const group = groupOf(d, catalog);
  if (group === "snake") {
    const wide = COIL_SHARE * long;
    const [at, deep] = [
      keptInside(x, wide, d.enclosure.length_m),
      keptInside(y, wide, d.enclosure.depth_m),
    ];
    return (
      <g
        className="pointer-events-none fill-none stroke-ink"
        strokeWidth={Math.max(high * p.scale, 2)}
        aria-hidden="true"
        data-testid="animal-above"
      >
        {[1, 0.55].map((share) => (
          <circle key={share} cx={p.x(at)} cy={p.y(deep)} r={(share * wide * p.scale) / 2} />
        ))}
      </g>
    );
  }
  const { above } = silhouette(group);
  const pose = poseBetween(above, x, long, 0, d.enclosure.length_m);
  const path = pathOf(above, pose, long, p.x, (across) => p.y(y + across * long));
  return <Body path={path} testId="animal-above" />;
}
