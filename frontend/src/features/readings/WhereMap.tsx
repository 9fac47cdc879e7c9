import type { Catalog, PlanDocument, Reading } from "../../api/types";
import { headroom, projection } from "../../canvas/projection";
import { Contents } from "../../canvas/Thumbnail";
import { show } from "../../domain/units/units";
import { usePreferences } from "../../ui/preferences";

interface WhereMapProps {
  document: PlanDocument;
  catalog: Catalog;
  at: NonNullable<Reading["at_m"]>;
}

/** Where in the enclosure a reading is taken: a mark in its picture, and the three measures in words. */
export function WhereMap({ document, catalog, at }: WhereMapProps) {
  const { units } = usePreferences();
  const tall = document.enclosure.height_m > document.enclosure.length_m;
  const p = projection(document.enclosure, headroom(document), 400, tall ? 300 : 220);
  const [x, y] = [p.x(at.x_m), p.y(at.z_m)];
  const ground = document.substrate.depth_m;
  const over = at.z_m - ground;
  const long = (m: number) => show(m, "length", units, 0);
  return (
    <figure>
      <svg viewBox={`0 0 400 ${p.height}`} className="block w-full rounded-md bg-air" aria-hidden>
        <Contents document={document} catalog={catalog} p={p} />
        <path d={`M${x} 0 V${p.height} M0 ${y} H400`} className="stroke-ink" strokeOpacity={0.35} />
        <circle cx={x} cy={y} r={11} className="fill-none stroke-ink" strokeWidth={5} />
        <circle cx={x} cy={y} r={11} className="fill-none stroke-raised" strokeWidth={2.5} />
      </svg>
      <figcaption className="mt-1 text-sm">
        <strong>{long(at.x_m)}</strong> from the left, <strong>{long(at.y_m)}</strong> from the
        front,{" "}
        {over < -0.003 ? (
          <>
            <strong>{long(-over)}</strong> deep in the ground
          </>
        ) : over < 0.003 ? (
          <strong>on the ground</strong>
        ) : (
          <>
            <strong>{long(over)}</strong> above the ground
          </>
        )}
      </figcaption>
    </figure>
  );
}
