import { Edges } from "@react-three/drei";
import { useMemo } from "react";
import { Object3D, Quaternion, Vector3 } from "three";
import type { BranchTemperatures, Furnishing, PlanDocument } from "../../api/types";
import { extentOf, furnishingsOf } from "../../domain/plan/document";
import { furnishingKey } from "../../domain/plan/furnishings";
import type { FieldScale } from "../fields";
import { rampHex } from "../ramps";
import { furnishingColour, type Palette } from "./colours";
import { inScene, type Vector } from "./coordinates";

interface ThingsProps {
  document: PlanDocument;
  palette: Palette;
  /** What is selected, alone or together. */
  selected: ReadonlySet<string>;
  onSelect: (key: string, together: boolean) => void;
  /** Temperatures along branches and the colours they have, where surfaces are shown. */
  warmth: { branches: readonly BranchTemperatures[]; scale: FieldScale } | null;
}

/** Everything that stands in the enclosure, to scale. */
export function Things({ document: d, palette, selected, onSelect, warmth }: ThingsProps) {
  return furnishingsOf(d).map((item) => {
    const key = furnishingKey(item.id);
    return (
      // biome-ignore lint/a11y/noStaticElementInteractions: the scene; the other views are read by screen readers
      <group
        key={item.id}
        onClick={(event) => {
          event.stopPropagation();
          onSelect(key, event.nativeEvent.shiftKey);
        }}
      >
        <Thing
          document={d}
          item={item}
          colour={selected.has(key) ? palette.selected : furnishingColour(item, palette)}
          warmth={warmth}
        />
      </group>
    );
  });
}

interface ThingProps {
  document: PlanDocument;
  item: Furnishing;
  colour: string;
  warmth: ThingsProps["warmth"];
}

function Thing({ document: d, item, colour, warmth }: ThingProps) {
  if (item.type === "branch")
    return <Branch document={d} item={item} colour={colour} warmth={warmth} />;
  if (item.type === "leaves") return <Leaves document={d} item={item} colour={colour} />;
  if (item.type === "hide") return <Hide document={d} item={item} colour={colour} />;
  const e = extentOf(d, item);
  return (
    <>
      <Cuboid document={d} extent={e} colour={colour} clear={item.type === "water"} />
      {item.type === "slab" && item.stack && (
        <Cuboid
          document={d}
          extent={{
            x0: item.x_m - item.stack.length_m / 2,
            x1: item.x_m + item.stack.length_m / 2,
            y0: item.y_m - item.stack.width_m / 2,
            y1: item.y_m + item.stack.width_m / 2,
            z0: d.substrate.depth_m,
            z1: e.z0,
          }}
          colour={colour}
        />
      )}
    </>
  );
}

interface CuboidProps {
  document: PlanDocument;
  extent: { x0: number; x1: number; y0: number; y1: number; z0: number; z1: number };
  colour: string;
  clear?: boolean;
}

function Cuboid({ document: d, extent: e, colour, clear = false }: CuboidProps) {
  return (
    <mesh
      castShadow={!clear}
      receiveShadow
      position={inScene(
        d.enclosure,
        (e.x0 + e.x1) / 2,
        (e.y0 + e.y1) / 2,
        (e.z0 + e.z1) / 2 + (clear ? 0.003 : 0),
      )}
    >
      <boxGeometry args={[e.x1 - e.x0, Math.max(0.002, e.z1 - e.z0), e.y1 - e.y0]} />
      <meshStandardMaterial
        color={colour}
        roughness={clear ? 0.15 : 0.85}
        transparent={clear}
        opacity={clear ? 0.75 : 1}
      />
      <Edges threshold={20} color="#000000" transparent opacity={0.3} />
    </mesh>
  );
}

/** Roof, walls and the opening in one of them. */
function Hide({
  document: d,
  item,
  colour,
}: {
  document: PlanDocument;
  item: Extract<Furnishing, { type: "hide" }>;
  colour: string;
}) {
  const e = extentOf(d, item);
  const t = item.wall_m;
  const top = e.z1 - t;
  const across = item.opening === "front" || item.opening === "back";
  const [from, to] = across ? [e.x0, e.x1] : [e.y0, e.y1];
  const gap = Math.min(item.opening_width_m, to - from - 2 * t);
  const [a, b] = [(from + to - gap) / 2, (from + to + gap) / 2];
  const lintel = Math.min(top, e.z0 + item.opening_height_m);
  const sides = {
    front: { y0: e.y0, y1: e.y0 + t, x0: e.x0, x1: e.x1 },
    back: { y0: e.y1 - t, y1: e.y1, x0: e.x0, x1: e.x1 },
    left: { x0: e.x0, x1: e.x0 + t, y0: e.y0, y1: e.y1 },
    right: { x0: e.x1 - t, x1: e.x1, y0: e.y0, y1: e.y1 },
  };
  const open = sides[item.opening];
  const part = (low: number, high: number) =>
    across ? { x0: low, x1: high } : { y0: low, y1: high };
  const pieces = [
    { ...e, z0: top, z1: e.z1 },
    ...(["front", "back", "left", "right"] as const)
      .filter((side) => side !== item.opening)
      .map((side) => ({ ...sides[side], z0: e.z0, z1: top })),
    { ...open, ...part(from, a), z0: e.z0, z1: top },
    { ...open, ...part(b, to), z0: e.z0, z1: top },
    ...(top - lintel > 0.001 ? [{ ...open, ...part(a, b), z0: lintel, z1: top }] : []),
  ];
  return pieces.map((piece) => (
    <Cuboid key={JSON.stringify(piece)} document={d} extent={piece} colour={colour} />
  ));
}

const UP = new Vector3(0, 1, 0);

interface BranchProps {
  document: PlanDocument;
  item: Extract<Furnishing, { type: "branch" }>;
  colour: string;
  warmth: ThingsProps["warmth"];
}

/** A round branch, in pieces of the colour of its temperature where that is shown. */
function Branch({ document: d, item, colour, warmth }: BranchProps) {
  const [a, b] = [item.start_m, item.end_m].map(
    (p) => new Vector3(...inScene(d.enclosure, p.x_m, p.y_m, p.z_m)),
  ) as [Vector3, Vector3];
  const turned = new Quaternion().setFromUnitVectors(UP, b.clone().sub(a).normalize());
  const known = warmth?.branches.find((one) => one.id === item.id)?.temperature_c ?? [];
  const colours =
    warmth && known.length > 0
      ? known.map((c) => rampHex("heat", warmth.scale.share(c)))
      : [colour];
  const length = a.distanceTo(b) / colours.length;
  return colours.map((shade, i) => {
    const at = a.clone().lerp(b, (i + 0.5) / colours.length);
    return (
      <mesh key={i} castShadow receiveShadow position={at.toArray() as Vector} quaternion={turned}>
        <cylinderGeometry args={[item.diameter_m / 2, item.diameter_m / 2, length, 14]} />
        <meshStandardMaterial color={shade} roughness={0.9} />
      </mesh>
    );
  });
}

const LEAVES_A_LITRE = 3;
const MOST_LEAVES = 400;

interface LeavesProps {
  document: PlanDocument;
  item: Extract<Furnishing, { type: "leaves" }>;
  colour: string;
}

/** Foliage as scattered leaves, fewer where more light passes; always the same for the same block. */
function Leaves({ document: d, item, colour }: LeavesProps) {
  const e = extentOf(d, item);
  const { enclosure } = d;
  const leaves = useMemo(() => {
    const litres = 1000 * (e.x1 - e.x0) * (e.y1 - e.y0) * (e.z1 - e.z0);
    const count = Math.min(
      MOST_LEAVES,
      Math.max(12, Math.round(LEAVES_A_LITRE * litres * (1 - item.porosity))),
    );
    const random = scattered(item.id.length * 7919 + 17);
    const turn = new Object3D();
    return Array.from({ length: count }, () => {
      turn.position.set(
        ...inScene(
          enclosure,
          e.x0 + random() * (e.x1 - e.x0),
          e.y0 + random() * (e.y1 - e.y0),
          e.z0 + random() * (e.z1 - e.z0),
        ),
      );
      turn.rotation.set(1.2 * random() - 0.6, 6.3 * random(), 1.2 * random() - 0.6);
      const size = 0.6 + 0.8 * random();
      turn.scale.set(1.3 * size, 0.16 * size, 0.6 * size);
      turn.updateMatrix();
      return turn.matrix.clone();
    });
  }, [e.x0, e.x1, e.y0, e.y1, e.z0, e.z1, item.id, item.porosity, enclosure]);
  return (
    <instancedMesh
      key={leaves.length}
      args={[undefined, undefined, leaves.length]}
      castShadow
      ref={(mesh) => {
        if (!mesh) return;
        for (const [i, matrix] of leaves.entries()) mesh.setMatrixAt(i, matrix);
        mesh.instanceMatrix.needsUpdate = true;
        mesh.computeBoundingSphere();
      }}
    >
      <sphereGeometry args={[0.03, 8, 6]} />
      <meshStandardMaterial color={colour} roughness={0.8} />
    </instancedMesh>
  );
}

/** Numbers from 0 to 1 that look scattered; the same for the same seed (a linear congruence). */
function scattered(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 4294967296;
  };
}
