import { OrbitControls } from "@react-three/drei";
import { Canvas } from "@react-three/fiber";
import {
  Box,
  Camera,
  ChevronDown,
  ChevronLeft,
  ChevronRight,
  ChevronUp,
  FileImage,
  Minus,
  Plus,
  RectangleHorizontal,
  SquareDashed,
} from "lucide-react";
import { type ComponentRef, useMemo, useRef, useState } from "react";
import { PCFShadowMap, Spherical, Vector3 } from "three";
import type { View } from "../../api/client";
import type { Catalog, Evaluation, PlanDocument } from "../../api/types";
import { show } from "../../domain/units/units";
import { Button, IconButton } from "../../ui/Button";
import { download, fileName } from "../../ui/download";
import { usePreferences } from "../../ui/preferences";
import type { FieldName, FieldScale } from "../fields";
import { useSelection } from "../selection";
import { AnimalInSpace } from "./AnimalInSpace";
import { DARK, LIGHT } from "./colours";
import { viewpoint } from "./coordinates";
import { EnclosureBox } from "./EnclosureBox";
import { LampsInSpace } from "./LampsInSpace";
import { Slices } from "./Slices";
import { Things } from "./Things";

interface SpaceStageProps {
  document: PlanDocument;
  evaluation: Evaluation | null;
  catalog: Catalog;
  field: FieldName;
  scale: FieldScale | null;
  selected: string;
  onSelect: (key: string) => void;
  /** The hour shown; null for the day. */
  hour: number | null;
  view: View;
  /** The slices are moved: their depth and height, m. */
  onView: (view: View) => void;
  /** A still picture for the report. */
  onReport: (picture: Blob) => void;
}

const TURN = Math.PI / 24;
const NEARER = 0.87;
const NOON_H = 12;

/** The enclosure in space, to scale: what a keeper would build as a mock-up before building it. */
export function SpaceStage(props: SpaceStageProps) {
  const {
    document: d,
    evaluation,
    catalog,
    field,
    scale,
    selected,
    onSelect,
    hour,
    view,
    onView,
    onReport,
  } = props;
  const selection = useSelection();
  const marked = useMemo(() => new Set([selected, ...selection.keys]), [selected, selection.keys]);
  const pick = (key: string, together: boolean) => {
    if (together || selection.adding) return selection.toggle(key);
    selection.clear();
    onSelect(key);
  };
  const { dark } = usePreferences();
  const palette = dark ? DARK : LIGHT;
  const controls = useRef<ComponentRef<typeof OrbitControls>>(null);
  const frame = useRef<HTMLDivElement>(null);
  const [upright, setUpright] = useState(true);
  const [level, setLevel] = useState(field === "surface");
  const [beams, setBeams] = useState(true);
  const day = hour === null || Math.abs(hour - 12) < d.photoperiod_h / 2;
  const basking = evaluation?.places.find((place) => place.kind === "basking");
  const warmth = useMemo(
    () =>
      field === "surface" && scale && evaluation?.section
        ? { branches: evaluation.section.branches, scale }
        : null,
    [field, scale, evaluation?.section],
  );
  const { length_m, depth_m, height_m } = d.enclosure;
  const start = useMemo(
    () => viewpoint({ length_m, depth_m, height_m }, "corner"),
    [length_m, depth_m, height_m],
  );
  const middle: [number, number, number] = [0, height_m / 2, 0];

  const moveCamera = (change: (at: Spherical) => void) => {
    const orbit = controls.current;
    if (!orbit) return;
    const away = orbit.object.position.clone().sub(orbit.target);
    const at = new Spherical().setFromVector3(away);
    change(at);
    at.phi = Math.min(Math.PI / 2 + 0.3, Math.max(0.02, at.phi));
    orbit.object.position.copy(orbit.target).add(new Vector3().setFromSpherical(at));
    orbit.update();
  };
  const orbitBy = (around: number, up: number) =>
    moveCamera((at) => {
      at.theta += around;
      at.phi += up;
    });
  const zoomBy = (by: number) =>
    moveCamera((at) => {
      at.radius *= by;
    });
  const seenFrom = (from: "corner" | "front" | "above") => {
    const orbit = controls.current;
    if (!orbit) return;
    orbit.target.set(...middle);
    orbit.object.position.set(...viewpoint(d.enclosure, from));
    orbit.update();
  };
  const save = () => {
    const canvas = frame.current?.querySelector("canvas");
    if (!canvas) return;
    download(canvas.toDataURL("image/png"), fileName(d.name, "3d.png"));
  };
  const report = () => {
    const canvas = frame.current?.querySelector("canvas");
    canvas?.toBlob((picture) => picture && onReport(picture), "image/png");
  };
  const keys = new Map([
    ["ArrowLeft", () => orbitBy(-TURN, 0)],
    ["ArrowRight", () => orbitBy(TURN, 0)],
    ["ArrowUp", () => orbitBy(0, -TURN)],
    ["ArrowDown", () => orbitBy(0, TURN)],
    ["+", () => zoomBy(NEARER)],
    ["=", () => zoomBy(NEARER)],
    ["-", () => zoomBy(1 / NEARER)],
    ["0", () => seenFrom("corner")],
  ]);
  return (
    <div className="flex h-full min-h-0 flex-col">
      {/* biome-ignore lint/a11y/useSemanticElements: a scene is no <fieldset> */}
      <div
        ref={frame}
        role="group"
        aria-label="The enclosure in 3D, to scale. Arrow keys turn it, plus and minus zoom, 0 shows all. Everything in it can be read in the views from the front and above."
        // biome-ignore lint/a11y/noNoninteractiveTabindex: it is turned by keys
        tabIndex={0}
        data-testid="stage-space"
        className="relative min-h-0 flex-1"
        onKeyDown={(event) => {
          const act = keys.get(event.key);
          if (!act || event.ctrlKey || event.metaKey) return;
          event.preventDefault();
          act();
        }}
      >
        <Canvas
          shadows={{ type: PCFShadowMap }}
          frameloop="demand"
          dpr={[1, 2]}
          camera={{ position: start, fov: 38, near: 0.01, far: 60 }}
          gl={{ preserveDrawingBuffer: true, antialias: true, localClippingEnabled: true }}
        >
          <color attach="background" args={[palette.background]} />
          <hemisphereLight args={["#ffffff", "#c9bda6", day ? 1.7 : 0.35]} />
          <directionalLight position={[2, 4, 3]} intensity={day ? 0.7 : 0.1} />
          <EnclosureBox document={d} catalog={catalog} palette={palette} onSelect={onSelect} />
          <Things
            document={d}
            palette={palette}
            selected={marked}
            onSelect={pick}
            warmth={warmth}
          />
          <LampsInSpace
            document={d}
            catalog={catalog}
            palette={palette}
            hour={hour ?? NOON_H}
            beams={beams}
            selected={marked}
            onSelect={pick}
          />
          {basking && (
            <AnimalInSpace
              document={d}
              catalog={catalog}
              at={{
                x: basking.x_m,
                y: basking.y_m,
                z: basking.z_m - d.animal.back_height_m,
              }}
              colour={palette.animal}
            />
          )}
          <Slices
            document={d}
            section={evaluation?.section ?? null}
            planView={evaluation?.plan_view ?? null}
            field={field}
            scale={scale}
            upright={upright}
            level={level}
          />
          <OrbitControls
            ref={controls}
            target={middle}
            enableDamping={false}
            minDistance={0.1}
            maxDistance={20}
            maxPolarAngle={Math.PI / 2 + 0.3}
          />
        </Canvas>
        <div
          role="toolbar"
          aria-label="3D view"
          className="absolute top-2 right-2 flex flex-col rounded-md border border-line bg-panel/90 max-sm:hidden"
        >
          {/* A finger does these on the picture itself. */}
          <div className="flex flex-col">
            <IconButton label="Nearer" keys="+" onClick={() => zoomBy(NEARER)}>
              <Plus size={18} aria-hidden />
            </IconButton>
            <IconButton label="Farther" keys="-" onClick={() => zoomBy(1 / NEARER)}>
              <Minus size={18} aria-hidden />
            </IconButton>
            <IconButton label="Turn to the left" onClick={() => orbitBy(-TURN, 0)}>
              <ChevronLeft size={18} aria-hidden />
            </IconButton>
            <IconButton label="Turn to the right" onClick={() => orbitBy(TURN, 0)}>
              <ChevronRight size={18} aria-hidden />
            </IconButton>
            <IconButton label="More from above" onClick={() => orbitBy(0, -TURN)}>
              <ChevronUp size={18} aria-hidden />
            </IconButton>
            <IconButton label="Less from above" onClick={() => orbitBy(0, TURN)}>
              <ChevronDown size={18} aria-hidden />
            </IconButton>
          </div>
        </div>
      </div>
      <div className="flex flex-wrap items-center gap-1.5 px-3 pb-1 group-data-small:hidden">
        <Button size="small" aria-keyshortcuts="0" onClick={() => seenFrom("corner")}>
          <Box size={15} aria-hidden /> From the corner
        </Button>
        <Button size="small" onClick={() => seenFrom("front")}>
          <RectangleHorizontal size={15} aria-hidden /> From the front
        </Button>
        <Button size="small" onClick={() => seenFrom("above")}>
          <SquareDashed size={15} aria-hidden /> From above
        </Button>
        <span className="flex-1" />
        <Button size="small" onClick={save}>
          <Camera size={15} aria-hidden /> Save as a picture
        </Button>
        <Button size="small" onClick={report}>
          <FileImage size={15} aria-hidden /> Put into the report
        </Button>
      </div>
      <div className="flex flex-wrap items-center gap-x-4 px-3 pb-1 text-sm group-data-small:hidden">
        <Slice
          label="Upright slice"
          from="from the front"
          on={upright}
          onTick={setUpright}
          value={view.depth ?? evaluation?.section?.y_m ?? depth_m / 2}
          max={depth_m}
          onMove={(depth) => onView({ ...view, depth })}
        />
        <Slice
          label={field === "surface" ? "Surfaces from above" : "Level slice"}
          from="up"
          on={level}
          onTick={setLevel}
          value={view.height ?? evaluation?.plan_view?.z_m ?? height_m / 2}
          max={height_m}
          onMove={(height) => onView({ ...view, height })}
        />
        <Tick on={beams} onTick={setBeams}>
          Beams
        </Tick>
        <span className="text-soft">Light and shade are a sketch; slices are computed.</span>
      </div>
    </div>
  );
}

interface SliceProps {
  label: string;
  /** Where its place is measured from. */
  from: string;
  on: boolean;
  onTick: (on: boolean) => void;
  value: number;
  max: number;
  onMove: (to: number) => void;
}

/** Whether a slice is shown, and where it lies. */
function Slice({ label, from, on, onTick, value, max, onMove }: SliceProps) {
  const { units } = usePreferences();
  return (
    <span className="flex items-center gap-2">
      <Tick on={on} onTick={onTick}>
        {label}
      </Tick>
      <input
        type="range"
        aria-label={`${label}, place`}
        aria-valuetext={`${show(value, "length", units)} ${from}`}
        disabled={!on}
        min={0}
        max={max}
        step={0.01}
        value={value}
        onChange={(event) => onMove(event.target.valueAsNumber)}
        className="h-6 w-24 accent-accent disabled:opacity-40"
      />
      <span className="w-36 whitespace-nowrap text-soft">
        {show(value, "length", units, 0)} {from}
      </span>
    </span>
  );
}

interface TickProps {
  on: boolean;
  onTick: (on: boolean) => void;
  children: React.ReactNode;
}

function Tick({ on, onTick, children }: TickProps) {
  return (
    <label className="flex min-h-6 items-center gap-1.5 pointer-coarse:min-h-11">
      <input
        type="checkbox"
        className="size-4"
        checked={on}
        onChange={(event) => onTick(event.target.checked)}
      />
      {children}
    </label>
  );
}
