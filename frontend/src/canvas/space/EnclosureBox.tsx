import { Edges } from "@react-three/drei";
import { BackSide } from "three";
import type { Catalog, PlanDocument } from "../../api/types";
import { bandsOf, burrowsOf, zonesOf } from "../../domain/plan/ground";
import { groundColour } from "../groundColours";
import type { Palette } from "./colours";
import { inScene } from "./coordinates";

interface EnclosureBoxProps {
  document: PlanDocument;
  catalog: Catalog;
  palette: Palette;
  onSelect: (key: string) => void;
}

/** Faces of a box in the order of its geometry. */
const FACES = ["right", "left", "top", "bottom", "front", "back"] as const;

/** Walls, seen from inside only so that the nearer ones never hide what is in them, the ground, and all edges. */
export function EnclosureBox({ document: d, catalog, palette, onSelect }: EnclosureBoxProps) {
  const { length_m: l, depth_m: w, height_m: h, walls } = d.enclosure;
  const clear = (face: (typeof FACES)[number]): number => {
    if (face === "bottom") return 0.9;
    const wall = walls[face];
    if (wall.kind !== "solid") return wall.kind === "mesh" ? 0.12 : 0;
    return catalog.materials.some((m) => m.id === wall.material_id && m.pane) ? 0.12 : 0.85;
  };
  return (
    <>
      <mesh position={[0, h / 2, 0]} receiveShadow raycast={() => null}>
        <boxGeometry args={[l, h, w]} />
        {FACES.map((face, i) => (
          <meshStandardMaterial
            key={face}
            attach={`material-${i}`}
            color={palette.wall}
            side={BackSide}
            transparent
            opacity={clear(face)}
            depthWrite={false}
            roughness={0.95}
          />
        ))}
        <Edges threshold={15} color={palette.edge} />
      </mesh>
      {bandsOf(d.substrate).map((band) => (
        // biome-ignore lint/a11y/noStaticElementInteractions: the scene; the other views are read by screen readers
        <mesh
          key={band.low}
          position={inScene(d.enclosure, l / 2, w / 2, (band.low + band.high) / 2)}
          receiveShadow
          onClick={(event) => {
            event.stopPropagation();
            onSelect("substrate");
          }}
        >
          <boxGeometry args={[l - 0.004, band.high - band.low, w - 0.004]} />
          <meshStandardMaterial color={groundColour(band.mix, false)} roughness={1} />
          <Edges threshold={15} color="#000000" transparent opacity={0.25} />
        </mesh>
      ))}
      {burrowsOf(d).map((burrow) => (
        <mesh
          key={burrow.id}
          position={inScene(
            d.enclosure,
            burrow.mouth_x_m,
            burrow.mouth_y_m,
            d.substrate.depth_m + 0.002,
          )}
          raycast={() => null}
        >
          <cylinderGeometry args={[0.5 * burrow.diameter_m, 0.5 * burrow.diameter_m, 0.002, 24]} />
          <meshStandardMaterial color="#2a211b" roughness={1} />
        </mesh>
      ))}
      {zonesOf(d).map((zone) => (
        <mesh
          key={zone.id}
          position={inScene(d.enclosure, zone.x_m, zone.y_m, d.substrate.depth_m + 0.001)}
          raycast={() => null}
        >
          <boxGeometry args={[zone.length_m - 0.006, 0.001, zone.width_m - 0.006]} />
          <meshStandardMaterial
            color={palette.water}
            transparent
            opacity={0.2 + 0.5 * zone.wetness}
            depthWrite={false}
          />
        </mesh>
      ))}
    </>
  );
}
