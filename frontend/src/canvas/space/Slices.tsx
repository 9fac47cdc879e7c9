import { useEffect, useMemo } from "react";
import {
  CanvasTexture,
  DoubleSide,
  Float32BufferAttribute,
  LinearFilter,
  PlaneGeometry,
  SRGBColorSpace,
} from "three";
import type { Furnishing, PlanDocument, PlanView, Section } from "../../api/types";
import { extentOf, furnishingsOf } from "../../domain/plan/document";
import { fieldImage } from "../fieldImage";
import type { FieldName } from "../fields";
import { type Field, type FieldScale, fieldOf } from "../fields";
import { inScene } from "./coordinates";

interface SlicesProps {
  document: PlanDocument;
  section: Section | null;
  planView: PlanView | null;
  field: FieldName;
  scale: FieldScale | null;
  upright: boolean;
  level: boolean;
}

const NOTHING: readonly Furnishing[] = [];

/** The field on the section and at the height of the view from above, as coloured panes. */
export function Slices({ document: d, section, planView, ...props }: SlicesProps) {
  const { field, scale, upright, level } = props;
  const { enclosure } = d;
  const front = useMemo(
    // Surfaces are lines in a section: nothing lies behind them.
    () => (section && upright && field !== "surface" ? fieldOf(section, field) : null),
    [section, upright, field],
  );
  const above = useMemo(
    () => (planView && level ? fieldOf(planView, field) : null),
    [planView, level, field],
  );
  // Seen from above their warmth is in the same picture, but it is not the ground's.
  const standing = useMemo(
    () => furnishingsOf(d).filter((item) => item.type !== "background"),
    [d],
  );
  return (
    <>
      {front && section && scale && (
        <mesh
          renderOrder={2}
          raycast={() => null}
          position={inScene(
            enclosure,
            (front.x0 + front.x1) / 2,
            section.y_m,
            (front.z0 + front.z1) / 2,
          )}
        >
          <planeGeometry args={[front.x1 - front.x0, front.z1 - front.z0]} />
          <FieldMaterial document={d} field={front} scale={scale} />
        </mesh>
      )}
      {above && planView && scale && (
        <>
          <Level
            document={d}
            // Surfaces seen from above: the ground first.
            at={field === "surface" ? d.substrate.depth_m + 0.002 : planView.z_m}
            extent={above}
            field={above}
            scale={scale}
            cut={field === "surface" ? standing : NOTHING}
          />
          {field === "surface" &&
            furnishingsOf(d)
              .filter((item) => item.type === "slab" || item.type === "hide")
              .map((item) => ({ id: item.id, e: extentOf(d, item) }))
              // What lies higher than the view is not in its picture.
              .filter(({ e }) => e.z1 <= planView.z_m + 0.001)
              .map(({ id, e }) => (
                <Level
                  key={id}
                  document={d}
                  at={e.z1 + 0.002}
                  extent={{ x0: e.x0, x1: e.x1, z0: e.y0, z1: e.y1 }}
                  field={above}
                  scale={scale}
                />
              ))}
        </>
      )}
    </>
  );
}

interface LevelProps {
  document: PlanDocument;
  /** How high it lies, m. */
  at: number;
  /** Which part of the field it shows: along x, and from the front. */
  extent: Pick<Field, "x0" | "x1" | "z0" | "z1">;
  field: Field;
  scale: FieldScale;
  /** What is cut from it. */
  cut?: readonly Furnishing[];
}

/** A part of a field seen from above, lying level. */
function Level({ document: d, at, extent: e, field, scale, cut = NOTHING }: LevelProps) {
  const geometry = useMemo(() => {
    const made = new PlaneGeometry(e.x1 - e.x0, e.z1 - e.z0);
    const across = (x: number) => (x - field.x0) / (field.x1 - field.x0);
    const back = (y: number) => (y - field.z0) / (field.z1 - field.z0);
    const [u0, u1, v0, v1] = [across(e.x0), across(e.x1), back(e.z0), back(e.z1)];
    made.setAttribute("uv", new Float32BufferAttribute([u0, v1, u1, v1, u0, v0, u1, v0], 2));
    return made;
  }, [e.x0, e.x1, e.z0, e.z1, field.x0, field.x1, field.z0, field.z1]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  return (
    <mesh
      geometry={geometry}
      position={inScene(d.enclosure, (e.x0 + e.x1) / 2, (e.z0 + e.z1) / 2, at)}
      rotation={[-Math.PI / 2, 0, 0]}
      renderOrder={2}
      raycast={() => null}
    >
      <FieldMaterial document={d} field={field} scale={scale} cut={cut} />
    </mesh>
  );
}

interface FieldMaterialProps {
  document: PlanDocument;
  field: Field;
  scale: FieldScale;
  cut?: readonly Furnishing[];
}

function FieldMaterial({ document: d, field, scale, cut = NOTHING }: FieldMaterialProps) {
  const texture = useMemo(() => {
    const image = fieldImage(field, scale);
    cutOut(image, field, d, cut);
    const made = new CanvasTexture(image);
    made.colorSpace = SRGBColorSpace;
    made.minFilter = LinearFilter;
    made.generateMipmaps = false;
    return made;
  }, [field, scale, d, cut]);
  useEffect(() => () => texture.dispose(), [texture]);
  return (
    <meshBasicMaterial
      map={texture}
      side={DoubleSide}
      transparent
      opacity={0.82}
      depthWrite={false}
      toneMapped={false}
    />
  );
}

/** Make a picture of a field clear where something stands. */
function cutOut(
  image: HTMLCanvasElement,
  field: Field,
  d: PlanDocument,
  things: readonly Furnishing[],
): void {
  const pen = image.getContext("2d");
  if (!pen || things.length === 0) return;
  const [perX, perY] = [
    (field.nx - 1) / (field.x1 - field.x0),
    (field.nz - 1) / (field.z1 - field.z0),
  ];
  const x = (m: number) => (m - field.x0) * perX + 0.5;
  const y = (m: number) => (field.z1 - m) * perY + 0.5;
  pen.globalCompositeOperation = "destination-out";
  pen.lineCap = "round";
  for (const item of things) {
    if (item.type === "branch") {
      pen.lineWidth = Math.max(2, item.diameter_m * perX + 1.5);
      pen.beginPath();
      pen.moveTo(x(item.start_m.x_m), y(item.start_m.y_m));
      pen.lineTo(x(item.end_m.x_m), y(item.end_m.y_m));
      pen.stroke();
    } else if (item.type !== "leaves") {
      const e = extentOf(d, item);
      pen.fillRect(
        x(e.x0) - 0.5,
        y(e.y1) - 0.5,
        (e.x1 - e.x0) * perX + 1,
        (e.y1 - e.y0) * perY + 1,
      );
    }
  }
}
