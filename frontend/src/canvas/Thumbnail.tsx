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

const PIXELS_A_METRE = 200;
const AROUND_PX = 8;

/** The same without room around it, as large as its box allows. */
export function TightThumbnail({ document: d, catalog }: PictureProps) {
  const { length_m: length, height_m: height } = d.enclosure;
  // Lamps that hang high above are cut from the picture: the enclosure is what is recognised.
  const over = Math.min(headroom(d), 0.3 * height);
  const [width, tall] = [
    PIXELS_A_METRE * length + 2 * AROUND_PX,
    PIXELS_A_METRE * (height + over) + 2 * AROUND_PX,
  ];
  const p = {
    scale: PIXELS_A_METRE,
    width,
    height: tall,
    x: (m: number) => AROUND_PX + PIXELS_A_METRE * m,
    y: (z: number) => tall - AROUND_PX - PIXELS_A_METRE * z,
    toX: (px: number) => (px - AROUND_PX) / PIXELS_A_METRE,
    toZ: (px: number) => (tall - AROUND_PX - px) / PIXELS_A_METRE,
  };
  return (
    <svg viewBox={`0 0 ${width} ${tall}`} className="block size-full" aria-hidden="true">
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
      <EnclosureDrawing enclosure={d.enclosure} substrate={d.substrate} projection={p} />
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
