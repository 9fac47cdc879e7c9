/** What the drawings from the front and from above share: lamps, furnishings, probes, pins, one field. */
import { type ReactNode, type RefObject, useMemo } from "react";
import type { Fixture, Furnishing, Lamp, PlanView, Section } from "../api/types";
import { addPin } from "../domain/plan/pins";
import { keysTouching } from "../domain/plan/selection";
import { usePreferences } from "../ui/preferences";
import type { StageProps } from "./edits";
import { Furnishings } from "./Furnishings";
import { type FieldName, fieldsOf, type InGround } from "./fields";
import { HoverHighlight } from "./HoverHighlight";
import { Lamps } from "./Lamps";
import { distanceBoxes, LiveDimension } from "./LiveDimension";
import { type Box, placed } from "./labels";
import type { Spot } from "./Movable";
import { NeedZones } from "./NeedZones";
import { Pins, pinLabels } from "./Pins";
import { Probes } from "./Probes";
import type { Projection } from "./projection";
import { Reach } from "./ShadeAndReach";
import { StageFrame } from "./StageFrame";
import { useSelection } from "./selection";
import type { ZoomControl } from "./useZoom";

/** How the enclosure's axes lie in a drawing, and what may be where. */
export interface Axes {
  readonly from: "front" | "above";
  /** The coordinate that goes up the drawing; x always goes across. */
  readonly up: "z_m" | "y_m";
  /** Metres across and up. */
  readonly size: { readonly across: number; readonly up: number };
  /** A spot in words, in the reader's units. */
  where(x: number, up: number): string;
  /** Where a lamp may be: by keys on the grid, by a drag also on what is near. */
  lampLimit(fixture: Fixture, lamp: Lamp, spot: Spot, by: "keys" | "drag"): Spot;
}

interface Layers {
  /** Behind everything but the field. */
  readonly beams?: ReactNode;
  /** Behind the furnishings. */
  readonly ground?: ReactNode;
  /** Between furnishings and lamps. */
  readonly middle?: ReactNode;
  /** Over the lamps, under probes and pins. */
  readonly marks?: ReactNode;
  furnishing(item: Furnishing): ReactNode;
  lamp(fixture: Fixture, lamp: Lamp, selected: boolean): ReactNode;
}

interface EnclosureStageProps extends StageProps {
  axes: Axes;
  projection: Projection;
  frame: RefObject<HTMLDivElement | null>;
  /** The fields that are drawn: a section, or a view from above. */
  fieldSource: Section | PlanView | null;
  /** Fields that lie over the drawing; the others are drawn otherwise. */
  shows: (name: FieldName) => boolean;
  /** Depth in the ground and temperature at a point of the drawing, where it shows the ground. */
  inGround?: (x: number, z: number) => InGround | null;
  /** The third coordinate of a new pin. */
  pinAt: { y_m?: number; z_m?: number };
  layers: Layers;
  /** Where names and figures are written. */
  labels: readonly Box[];
  zoom: ZoomControl;
  label: string;
  hint: string;
  testId: string;
  /** What the test ids of lamps begin with. */
  lampTestId: string;
}

export function EnclosureStage(props: EnclosureStageProps) {
  const { axes, projection: p, layers, document: d, evaluation, catalog } = props;
  const { field: name, selected, onSelect, edits } = props;
  const { fieldSource } = props;
  const selection = useSelection();
  const evaluated = useMemo(() => fieldSource && fieldsOf(fieldSource), [fieldSource]);
  const view = { document: d, projection: p, from: axes.from };
  const { units } = usePreferences();
  const pinBoxes = useMemo(
    () =>
      placed(
        pinLabels(d, evaluation, name, p, axes.from, units),
        { x: 0, y: 0, width: p.width, height: p.height },
        props.labels,
      ),
    [d, evaluation, name, p, axes.from, units, props.labels],
  );
  const labels = useMemo(() => [...props.labels, ...pinBoxes.values()], [props.labels, pinBoxes]);
  const isOne = selection.keys.length < 2;
  const avoid = useMemo(() => {
    const from = axes.from;
    const beside = { document: d, projection: p, from, selected, avoid: labels };
    return isOne ? [...labels, ...distanceBoxes(beside, units)] : labels;
  }, [d, p, axes.from, selected, labels, isOne, units]);
  const choice = { selected, onSelect, edits };
  return (
    <StageFrame
      document={d}
      frame={props.frame}
      projection={p}
      from={axes.from}
      size={axes.size}
      label={props.label}
      testId={props.testId}
      name={name}
      shows={props.shows(name)}
      evaluated={evaluated}
      scale={props.scale}
      wanted={props.wanted}
      avoid={avoid}
      evaluation={evaluation}
      shade={props.shade}
      where={axes.where}
      inGround={props.inGround}
      zoom={props.zoom}
      hint={props.hint}
      onPin={(x_m, up) => addPin(d, { x_m, [axes.up]: up, ...props.pinAt }, edits, onSelect)}
      onArea={(one, other) => {
        const keys = keysTouching(d, catalog, axes.from === "front" ? "z" : "y", {
          x: [one.x, other.x],
          up: [one.z, other.z],
        });
        selection.put(keys);
        if (keys[0]) onSelect(keys[0]);
      }}
      beams={layers.beams}
      things={
        <>
          {layers.ground}
          <Furnishings
            {...view}
            {...choice}
            catalog={catalog}
            avoid={labels}
            shape={layers.furnishing}
          />
          {props.reach && evaluation && <Reach {...view} evaluation={evaluation} />}
          <NeedZones {...view} evaluation={evaluation} field={name} />
          {layers.middle}
        </>
      }
      lamps={
        <>
          <Lamps
            document={d}
            catalog={catalog}
            axes={axes}
            projection={p}
            {...choice}
            testId={props.lampTestId}
            shape={layers.lamp}
          />
          {isOne && <LiveDimension {...view} selected={selected} avoid={labels} />}
        </>
      }
      marks={
        <>
          {layers.marks}
          <Probes {...view} {...choice} where={axes.where} />
          <Pins {...view} {...choice} evaluation={evaluation} field={name} boxes={pinBoxes} />
          <HoverHighlight {...view} id={props.pointed ?? null} evaluation={evaluation} />
        </>
      }
    />
  );
}
