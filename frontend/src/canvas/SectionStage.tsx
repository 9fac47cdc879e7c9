import { useMemo } from "react";
import { lampWithin, thermostatsOf } from "../domain/plan/document";
import { groundLimit, shallowestGround, withGroundDepth } from "../domain/plan/ground";
import { clamp, onGrid, tidy } from "../domain/plan/lengths";
import { snappedAlong } from "../domain/plan/snap";
import { show } from "../domain/units/units";
import { usePreferences } from "../ui/preferences";
import { useMedia } from "../ui/useMedia";
import { useSize } from "../ui/useSize";
import { Animal } from "./AnimalShape";
import { Tag } from "./Dimension";
import { EnclosureDrawing, FurnishingShape } from "./EnclosureDrawing";
import { type Axes, EnclosureStage } from "./EnclosureStage";
import type { StageProps } from "./edits";
import { FixtureShape } from "./FixtureShape";
import { groundAt } from "./fields";
import { HeightMarks } from "./HeightMarks";
import { Beams } from "./Lamps";
import { Movable } from "./Movable";
import { PlaceMarks } from "./PlaceMarks";
import { PlumeShapes } from "./PlumeShapes";
import { FIRST_SIZE, headroom, projection, sideRoom } from "./projection";
import { Rulers } from "./Rulers";
import { GroundColours, GroundOutlines, SurfaceStrips } from "./SurfaceStrips";
import { sectionLabels } from "./sectionLabels";
import { useZoom } from "./useZoom";
import { Vents } from "./Vents";

/** The heart of the application: the enclosure in section, to scale, with a field laid over it. */
export function SectionStage(props: StageProps) {
  const { document: d, evaluation, catalog, field: name, selected, onSelect, edits } = props;
  const { units } = usePreferences();
  const finger = useMedia("(pointer: coarse)");
  const [frame, { width, height: tallest }] = useSize<HTMLDivElement>(FIRST_SIZE);

  // Kept while lamps move, so that the field behind them is not painted again.
  const { length_m: length, height_m: height } = d.enclosure;
  const above = headroom(d);
  const { left, right } = sideRoom(d);
  const base = useMemo(
    () =>
      projection({ length_m: length, height_m: height }, above, width, tallest, {
        left,
        right,
        below: 0,
      }),
    [length, height, above, width, tallest, left, right],
  );
  const [p, zoom] = useZoom(base, frame);
  const section = evaluation?.section ?? null;
  const { scale } = props;
  const ground = d.substrate.depth_m;
  const axes: Axes = {
    from: "front",
    up: "z_m",
    size: { across: length, up: height },
    where: (x, z) =>
      `${show(x, "length", units)} from the left, ${show(z, "length", units)} above the floor`,
    lampLimit: (f, lamp, s, by) => {
      const x_m = by === "keys" ? onGrid(s.x) : snappedAlong(d, s.x);
      const to = { ...f.position_m, x_m, z_m: onGrid(s.z) };
      const at = lampWithin(d, catalog, f, lamp, to);
      return { x: at.x_m, z: at.z_m };
    },
  };
  const labels = useMemo(
    () => sectionLabels(d, evaluation, name, p, units),
    [d, evaluation, name, p, units],
  );
  const written = useMemo(() => [...labels.boxes.values()], [labels]);
  const basking = evaluation?.places.find((place) => place.kind === "basking");
  const beams = (
    <>
      <clipPath id="inside">
        <rect x={p.x(0)} y={0} width={p.scale * length} height={p.y(ground)} />
      </clipPath>
      <g clipPath="url(#inside)">
        <Beams document={d} catalog={catalog} projection={p} />
      </g>
    </>
  );
  const behind = (
    <>
      {section && scale && name === "air" && (
        <g clipPath="url(#inside)">
          <PlumeShapes section={section} scale={scale} projection={p} />
        </g>
      )}
      <EnclosureDrawing enclosure={d.enclosure} substrate={d.substrate} projection={p} />
    </>
  );
  const middle = (
    <>
      {section && scale && name === "surface" && (
        <>
          <GroundColours section={section} scale={scale} projection={p} />
          <GroundOutlines substrate={d.substrate} length={length} projection={p} />
        </>
      )}
      {section && scale && (name === "air" || name === "surface") && (
        <SurfaceStrips
          section={section}
          scale={scale}
          projection={p}
          thick={name === "surface" ? 11 : 6}
        />
      )}
      <Vents document={d} projection={p} selected={selected} onSelect={onSelect} edits={edits} />
      {basking && (
        <Animal
          document={d}
          catalog={catalog}
          x={basking.x_m}
          z={basking.z_m - d.animal.back_height_m}
          projection={p}
        />
      )}
      <Rulers document={d} projection={p} units={units} />
      <Movable
        label={`Substrate, ${show(ground, "length", units)} deep. Arrow keys change it.`}
        testId="move-substrate"
        at={{ x: d.enclosure.length_m * 0.86, z: ground }}
        projection={p}
        selected={selected === "substrate"}
        onSelect={() => onSelect("substrate")}
        limit={(s) => ({
          x: d.enclosure.length_m * 0.86,
          z: tidy(clamp(onGrid(s.z), shallowestGround(d), groundLimit(edits.base()).depth)),
        })}
        onDrag={(s) => edits.preview(withGroundDepth(edits.base(), s.z))}
        onDrop={(s) =>
          edits.commit(
            withGroundDepth(edits.base(), s.z),
            `Substrate ${show(ground, "length", units)} to ${show(s.z, "length", units)}`,
          )
        }
        onCancel={edits.cancel}
      >
        <rect
          x={p.x(0)}
          y={p.y(ground) - 5}
          width={p.scale * d.enclosure.length_m}
          height={14}
          fill="transparent"
        />
        <g transform={`translate(${p.x(d.enclosure.length_m * 0.86)} ${p.y(ground)})`}>
          <rect
            x={-20}
            y={-3}
            width={40}
            height={12}
            rx={6}
            className={`fill-raised ${selected === "substrate" ? "stroke-accent" : "stroke-edge"}`}
            strokeWidth={1.5}
          />
          <path d="M-7 1.5h14M-7 4.5h14" className="stroke-edge" />
          <rect
            className="focus-ring fill-none stroke-accent"
            opacity={0}
            strokeWidth={3}
            x={-25}
            y={-8}
            width={50}
            height={22}
            rx={10}
          />
        </g>
      </Movable>
    </>
  );
  const marks = (
    <>
      {thermostatsOf(d).map((t) => (
        <g key={t.id} aria-hidden="true" className="pointer-events-none">
          <Cable x={p.x(t.probe_m.x_m)} y={p.y(t.probe_m.z_m)} top={p.y(d.enclosure.height_m)} />
        </g>
      ))}
      <g aria-hidden="true">
        {labels.probes.map(({ id, text }) => {
          const box = labels.boxes.get(id);
          return box && <Tag key={id} box={box} text={text} testId={`mark-${id}`} />;
        })}
      </g>
      <HeightMarks labels={labels.heights} boxes={labels.boxes} />
      <PlaceMarks labels={labels.places} boxes={labels.boxes} />
    </>
  );

  return (
    <EnclosureStage
      {...props}
      axes={axes}
      projection={p}
      frame={frame}
      fieldSource={section}
      // Surfaces are lines in a section: nothing lies behind them.
      shows={(field) => field !== "surface"}
      inGround={(x, z) => section && groundAt(section, x, z)}
      pinAt={{ y_m: section?.y_m ?? d.enclosure.depth_m / 2 }}
      labels={written}
      zoom={zoom}
      label="The enclosure from the front, to scale"
      hint={
        finger
          ? "Touch the picture to read it. Touch a thing to select it, then drag it."
          : "Point at the picture to read it; drag things to move them."
      }
      testId="stage"
      lampTestId="move"
      layers={{
        beams,
        ground: behind,
        middle,
        marks,
        furnishing: (item) => <FurnishingShape item={item} document={d} projection={p} />,
        lamp: (f, lamp, isSelected) => (
          <FixtureShape fixture={f} lamp={lamp} document={d} projection={p} selected={isSelected} />
        ),
      }}
    />
  );
}

/** From the probe up and out of the enclosure. */
function Cable({ x, y, top }: { x: number; y: number; top: number }) {
  const middle = (y + top) / 2;
  const d = `M${x} ${y} C${x + 10} ${middle} ${x - 8} ${middle} ${x} ${top}`;
  return (
    <>
      <path d={d} fill="none" stroke="white" strokeWidth={3} strokeOpacity={0.7} />
      <path d={d} className="fill-none stroke-scale" strokeWidth={1.25} />
    </>
  );
}
