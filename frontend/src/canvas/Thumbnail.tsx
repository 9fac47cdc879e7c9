import type { Catalog, PlanDocument } from "../api/types";
import { fixturesOf, furnishingsOf } from "../domain/plan/document";
import { Animal } from "./AnimalShape";
import { EnclosureDrawing, FurnishingShape } from "./EnclosureDrawing";
import { FixtureShape } from "./FixtureShape";
import { headroom, projection } from "./projection";

export interface PictureProps {
  document: PlanDocument;
  catalog: Catalog | null;
}

/** The enclosure from the front, small and without fields. */
export function Thumbnail({ document: d, catalog }: PictureProps) {
  const p = projection(d.enclosure, headroom(d), 400, 230);
  return (
    <svg viewBox={`0 0 400 ${p.height}`} className="block w-full bg-air" aria-hidden="true">
      <Contents document={d} catalog={catalog} p={p} />
    </svg>
  );
}

export function Contents({
  document: d,
  catalog,
  p,
}: PictureProps & { p: ReturnType<typeof projection> }) {
  const basking = furnishingsOf(d).find((f) => f.type === "slab" && f.basking);
  const slab = basking?.type === "slab" ? basking : null;
  return (
    <>
      <EnclosureDrawing enclosure={d.enclosure} depth={d.substrate.depth_m} projection={p} />
      {furnishingsOf(d).map((item) => (
        <FurnishingShape key={item.id} item={item} document={d} projection={p} />
      ))}
      {slab && (
        <Animal
          document={d}
          catalog={catalog}
          x={slab.x_m}
          z={d.substrate.depth_m + slab.underside_m + slab.thickness_m}
          projection={p}
        />
      )}
      {fixturesOf(d).map((f) => {
        const lamp = catalog?.lamps.find((l) => l.id === f.lamp_id);
        return lamp ? (
          <FixtureShape
            key={f.id}
            fixture={f}
            lamp={lamp}
            document={d}
            projection={p}
            selected={false}
          />
        ) : null;
      })}
    </>
  );
}
