import { useMemo } from "react";
import { Shape } from "three";
import type { Catalog, PlanDocument } from "../../api/types";
import { groupOf, keptInside } from "../AnimalShape";
import { COIL_SHARE, type Outline, poseBetween, silhouette } from "../silhouettes";
import { inScene } from "./coordinates";

interface AnimalInSpaceProps {
  document: PlanDocument;
  catalog: Catalog;
  /** Where it basks: the middle of its body and what it stands on, m. */
  at: { x: number; y: number; z: number };
  colour: string;
}

/** Bodies are about as wide as their backs are high. Estimate. */
const WIDE_SHARE = 0.9;

/** The animal to scale, as if cut from a board: its outline from the side, as thick as its body. */
export function AnimalInSpace({ document: d, catalog, at, colour }: AnimalInSpaceProps) {
  const { body_length_m: long, back_height_m: high } = d.animal;
  const { length_m: length } = d.enclosure;
  const group = groupOf(d, catalog);
  const wide = WIDE_SHARE * high;
  const shape = useMemo(() => {
    const { side } = silhouette(group);
    const pose = poseBetween(side, at.x, long, 0, length);
    const x = (share: number) =>
      pose.vent + pose.way * long * (share < 0 ? share * pose.tail : share) - length / 2;
    return drawn(side, x, (share) => share * high);
  }, [group, at.x, long, high, length]);
  if (group === "snake") {
    const across = COIL_SHARE * long;
    const x = keptInside(at.x, across, length);
    const y = keptInside(at.y, across, d.enclosure.depth_m);
    return [1, 0.55].map((share, i) => (
      <mesh
        key={share}
        castShadow
        position={inScene(d.enclosure, x, y, at.z + high / 2 + i * 0.6 * high)}
        rotation={[Math.PI / 2, 0, 0]}
      >
        <torusGeometry args={[(share * across - high) / 2, high / 2, 10, 40]} />
        <meshStandardMaterial color={colour} roughness={0.7} />
      </mesh>
    ));
  }
  const [, , z] = inScene(d.enclosure, at.x, at.y, at.z);
  return (
    <mesh castShadow position={[0, at.z, z - wide / 2]}>
      <extrudeGeometry
        args={[shape, { depth: wide, bevelEnabled: true, bevelSize: 0.002, bevelThickness: 0.004 }]}
      />
      <meshStandardMaterial color={colour} roughness={0.7} />
    </mesh>
  );
}

function drawn(
  outline: Outline,
  x: (share: number) => number,
  y: (share: number) => number,
): Shape {
  const shape = new Shape();
  for (const [command, ...p] of outline) {
    const at = p.map((value, i) => (i % 2 === 0 ? x(value) : y(value)));
    const [a = 0, b = 0, c = 0, e = 0, f = 0, g = 0] = at;
    if (command === "M") shape.moveTo(a, b);
    else if (command === "L") shape.lineTo(a, b);
    else if (command === "C") shape.bezierCurveTo(a, b, c, e, f, g);
    else shape.closePath();
  }
  return shape;
}
