import { useMemo } from "react";
import type { Fixture, PlanDocument } from "../api/types";
import {
  deepestSubstrate,
  fixturesOf,
  highestLamp,
  lampMargins,
  thermostatsOf,
  withFixture,
} from "../domain/plan/document";
import { fixtureActions, makeStepRunner } from "../domain/plan/itemActions";
import { clamp, onGrid, tidy } from "../domain/plan/lengths";
import { addPin } from "../domain/plan/pins";
import { snappedAlong } from "../domain/plan/snap";
import { show } from "../domain/units/units";
import { usePreferences } from "../ui/preferences";
import { useWidth } from "../ui/useWidth";
import { Tag } from "./Dimension";
import { Animal, EnclosureDrawing, FurnishingShape } from "./EnclosureDrawing";
import type { StageProps } from "./edits";
import { BeamEdges, FixtureShape } from "./FixtureShape";
import { Furnishings } from "./Furnishings";
import { fieldsOf } from "./fields";
import { HoverHighlight } from "./HoverHighlight";
import { LiveDimension } from "./LiveDimension";
import { Movable, type Spot } from "./Movable";
import { NeedZones } from "./NeedZones";
import { Pins } from "./Pins";
import { PlaceMarks } from "./PlaceMarks";
import { Probes } from "./Probes";
import { headroom, projection } from "./projection";
import { Rulers } from "./Rulers";
import { Reach } from "./ShadeAndReach";
import { StageFrame } from "./StageFrame";
import { SurfaceStrips } from "./SurfaceStrips";
import { Vents } from "./Vents";

/** The heart of the application: the enclosure in section, to scale, with a field laid over it. */
export function SectionStage(props: StageProps) {
  const { document: d, evaluation, catalog, field: name, selected, onSelect, edits } = props;
  const { units } = usePreferences();
  const [frame, width] = useWidth<HTMLDivElement>(760);

  // Tall enough to read, low enough that the controls below stay in view.
  const usual = d.enclosure.height_m > d.enclosure.length_m ? 0.62 : 0.53;
  const share = props.low ? 0.82 * usual : usual;
  const tallest = Math.max(
    props.low ? 260 : 320,
    Math.min(0.62 * width, share * window.innerHeight),
  );
  // Kept while lamps move, so that the field behind them is not painted again.
  const { length_m: length, height_m: height } = d.enclosure;
  const above = headroom(d);
  const p = useMemo(
    () => projection({ length_m: length, height_m: height }, above, width, tallest),
    [length, height, above, width, tallest],
  );
  const section = evaluation?.section ?? null;
  const fields = useMemo(() => section && fieldsOf(section), [section]);
  // Surfaces are lines in a section: nothing lies behind them.
  const field = name === "surface" ? null : (fields?.[name] ?? null);
  const { scale } = props;
  const lampOf = (id: string) => catalog.lamps.find((l) => l.id === id);
  const where = (x: number, z: number) =>
    `${show(x, "length", units)} from the left, ${show(z, "length", units)} above the floor`;
  const ground = d.substrate.depth_m;
  const within = (x: number, margin: number) =>
    tidy(clamp(x, margin, d.enclosure.length_m - margin));
  const hung = (f: Fixture, z: number) => {
    const lowest = f.mount === "air" ? ground + 0.01 : 0;
    return f.mount === "floor" ? 0 : tidy(clamp(onGrid(z), lowest, highestLamp(d)));
  };
  const basking = evaluation?.places.find((place) => place.kind === "basking");

  return (
    <StageFrame
      frame={frame}
      projection={p}
      from="front"
      size={{ across: length, up: height }}
      label="The enclosure from the front, to scale"
      testId="stage"
      name={name}
      field={field}
      fields={fields}
      scale={scale}
      evaluation={evaluation}
      shade={props.shade}
      where={where}
      hint="Point at the picture to read it, double-click to pin a place; drag things to move them."
      onPin={(x_m, z_m) =>
        addPin(d, { x_m, z_m, y_m: section?.y_m ?? d.enclosure.depth_m / 2 }, edits, onSelect)
      }
    >
      <clipPath id="inside">
        <rect x={p.x(0)} y={0} width={p.scale * d.enclosure.length_m} height={p.y(ground)} />
      </clipPath>
      <g clipPath="url(#inside)">
        {fixturesOf(d).map((f) => {
          const lamp = lampOf(f.lamp_id);
          return lamp ? (
            <BeamEdges key={f.id} fixture={f} lamp={lamp} document={d} projection={p} />
          ) : null;
        })}
      </g>
      <EnclosureDrawing enclosure={d.enclosure} depth={ground} projection={p} />
      <Furnishings
        document={d}
        projection={p}
        from="front"
        catalog={catalog}
        selected={selected}
        onSelect={onSelect}
        edits={edits}
        shape={(item) => <FurnishingShape item={item} document={d} projection={p} />}
      />
      {section && scale && (name === "air" || name === "surface") && (
        <SurfaceStrips
          section={section}
          scale={scale}
          projection={p}
          thick={name === "surface" ? 11 : 6}
        />
      )}
      {props.reach && evaluation && (
        <Reach document={d} evaluation={evaluation} projection={p} from="front" />
      )}
      <NeedZones document={d} evaluation={evaluation} field={name} projection={p} from="front" />
      <Vents document={d} projection={p} selected={selected} onSelect={onSelect} edits={edits} />
      {basking && (
        <Animal
          x={basking.x_m}
          z={basking.z_m - d.animal.back_height_m}
          bodyLength={d.animal.body_length_m}
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
          z: tidy(clamp(onGrid(s.z), 0, deepestSubstrate(d))),
        })}
        onDrag={(s) => edits.preview(withDepth(d, s.z))}
        onDrop={(s) =>
          edits.commit(
            withDepth(d, s.z),
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

      {fixturesOf(d).map((f) => {
        const lamp = lampOf(f.lamp_id);
        if (!lamp) return null;
        const { x_m: x, z_m: z } = f.position_m;
        const margin = lampMargins(d, f, lamp).x;
        const moved = (s: Spot) =>
          withFixture(d, f.id, { position_m: { ...f.position_m, x_m: s.x, z_m: s.z } });
        return (
          <Movable
            key={f.id}
            label={`${f.label}, ${where(x, z)}. Arrow keys move it.`}
            testId={`move-${f.id}`}
            at={{ x, z }}
            projection={p}
            selected={selected === f.id}
            onSelect={() => onSelect(f.id)}
            limitKeys={(s) => ({ x: within(onGrid(s.x), margin), z: hung(f, s.z) })}
            limit={(s) => ({ x: within(snappedAlong(d, s.x), margin), z: hung(f, s.z) })}
            onDrag={(s) => edits.preview(moved(s))}
            onDrop={(s) => edits.commit(moved(s), `${f.label} to ${where(s.x, s.z)}`)}
            onCancel={edits.cancel}
            actions={fixtureActions(d, f)}
            onStep={makeStepRunner(edits.commit, onSelect)}
          >
            <FixtureShape
              fixture={f}
              lamp={lamp}
              document={d}
              projection={p}
              selected={selected === f.id}
            />
          </Movable>
        );
      })}

      {thermostatsOf(d).map((t) => {
        const [x, y] = [p.x(t.probe_m.x_m), p.y(t.probe_m.z_m)];
        const reading = evaluation?.thermostats.find((s) => s.id === t.id)?.probe_c;
        // In the right half its reading is written to the left, clear of the end's own figure.
        const flip = x > p.width / 2;
        return (
          <g key={t.id} aria-hidden="true" className="pointer-events-none">
            <Cable x={x} y={y} top={p.y(d.enclosure.height_m)} />
            {reading !== undefined && (
              <Tag
                x={x + (flip ? -12 : 12)}
                y={y}
                text={`probe ${show(reading, "temperature", units, 1)}`}
                anchor={flip ? "end" : "start"}
              />
            )}
          </g>
        );
      })}
      <Probes
        document={d}
        projection={p}
        from="front"
        selected={selected}
        onSelect={onSelect}
        edits={edits}
        where={where}
      />
      <PlaceMarks document={d} evaluation={evaluation} field={name} projection={p} />
      <Pins
        document={d}
        evaluation={evaluation}
        field={name}
        projection={p}
        from="front"
        selected={selected}
        onSelect={onSelect}
        edits={edits}
      />
      <LiveDimension document={d} projection={p} from="front" selected={selected} />
      <HoverHighlight
        id={props.pointed ?? null}
        document={d}
        evaluation={evaluation}
        projection={p}
        from="front"
      />
    </StageFrame>
  );
}

function withDepth(d: PlanDocument, depth: number): PlanDocument {
  return { ...d, substrate: { ...d.substrate, depth_m: depth } };
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
