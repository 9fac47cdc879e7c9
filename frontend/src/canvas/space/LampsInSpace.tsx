import { useMemo } from "react";
import { Plane, Vector3 } from "three";
import type { Catalog, Fixture, Lamp, PlanDocument } from "../../api/types";
import { against, fixturesOf, isOnAt, thermostatsOf } from "../../domain/plan/document";
import { glow, type Palette } from "./colours";
import { inScene, turnedInScene, type Vector } from "./coordinates";

interface LampsInSpaceProps {
  document: PlanDocument;
  catalog: Catalog;
  palette: Palette;
  /** The hour of the day: noon where a steady day is shown. */
  hour: number;
  beams: boolean;
  /** What is selected, alone or together. */
  selected: ReadonlySet<string>;
  onSelect: (key: string, together: boolean) => void;
}

/** Lamps and heaters as they hang, lit at their hours, with their beams, and the probes. */
export function LampsInSpace(props: LampsInSpaceProps) {
  const { document: d, catalog, palette, hour, beams, selected, onSelect } = props;
  return (
    <>
      {fixturesOf(d).map((fixture) => {
        const lamp = catalog.lamps.find((one) => one.id === fixture.lamp_id);
        if (!lamp) return null;
        const lit = isOnAt(fixture, hour, d.photoperiod_h);
        return (
          // biome-ignore lint/a11y/noStaticElementInteractions: the scene; the other views are read by screen readers
          <group
            key={fixture.id}
            onClick={(event) => {
              event.stopPropagation();
              onSelect(fixture.id, event.nativeEvent.shiftKey);
            }}
          >
            <LampInSpace
              document={d}
              fixture={fixture}
              lamp={lamp}
              lit={lit}
              beam={beams && lit}
              body={selected.has(fixture.id) ? palette.selected : palette.metal}
            />
            {fixture.guard && (
              <Guard
                document={d}
                fixture={fixture}
                lamp={lamp}
                colour={selected.has(fixture.id) ? palette.selected : palette.metal}
              />
            )}
          </group>
        );
      })}
      {thermostatsOf(d).map((t) => (
        // biome-ignore lint/a11y/noStaticElementInteractions: the scene; the other views are read by screen readers
        <mesh
          key={t.id}
          position={inScene(d.enclosure, t.probe_m.x_m, t.probe_m.y_m, t.probe_m.z_m)}
          onClick={(event) => {
            event.stopPropagation();
            onSelect(t.id, false);
          }}
        >
          <capsuleGeometry args={[0.006, 0.02, 4, 8]} />
          <meshStandardMaterial color={selected.has(t.id) ? palette.selected : "#20302c"} />
        </mesh>
      ))}
    </>
  );
}

interface GuardProps {
  document: PlanDocument;
  fixture: Fixture;
  lamp: Lamp;
  colour: string;
}

/** A cage of wire around a lamp. */
function Guard({ document: d, fixture, lamp, colour }: GuardProps) {
  const { position_m: p } = fixture;
  const isLong = lamp.shape === "line" || lamp.shape === "panel";
  const long = isLong ? (lamp.length_m ?? USUAL_LENGTH_M) : 0;
  const across = long + 2 * GUARD_GAP_M;
  return (
    <mesh
      position={inScene(d.enclosure, p.x_m, p.y_m, p.z_m)}
      rotation={turnedInScene(fixture)}
      raycast={() => null}
    >
      <boxGeometry args={[across, GUARD_HIGH_M, (lamp.width_m ?? 0) + 2 * GUARD_GAP_M, 8, 6, 6]} />
      <meshBasicMaterial color={colour} wireframe transparent opacity={0.55} />
    </mesh>
  );
}

interface LampProps {
  document: PlanDocument;
  fixture: Fixture;
  lamp: Lamp;
  lit: boolean;
  beam: boolean;
  body: string;
}

// Looks only; sizes that matter come from the catalogue. Estimates.
const GUARD_GAP_M = 0.07;
const GUARD_HIGH_M = 0.16;
const TUBE_RADIUS_M = 0.008;
const USUAL_LENGTH_M = 0.3;
const SOCKET_RADIUS_M = 0.045;
const PANEL_THICK_M = 0.02;
const MAT_THICK_M = 0.004;
const USUAL_BEAM_DEG = 60;
const RADIANS = Math.PI / 180;

function LampInSpace({ document: d, fixture, lamp, lit, beam, body }: LampProps) {
  const { length_m: wide, depth_m: deep } = d.enclosure;
  // Beams end at the walls and the ground.
  const inside = useMemo(
    () => [
      new Plane(new Vector3(1, 0, 0), wide / 2),
      new Plane(new Vector3(-1, 0, 0), wide / 2),
      new Plane(new Vector3(0, 0, 1), deep / 2),
      new Plane(new Vector3(0, 0, -1), deep / 2),
    ],
    [wide, deep],
  );
  const { position_m: p } = fixture;
  const at = inScene(d.enclosure, p.x_m, p.y_m, p.z_m);
  const shine = glow(lamp);
  const long = lamp.length_m ?? USUAL_LENGTH_M;
  const across = lamp.width_m ?? long;
  const bright = lit ? 1 : 0;
  if (lamp.kind === "mat") {
    const face = against(fixture);
    const standing = face !== null && face !== "floor";
    const sideways = face === "left" || face === "right";
    const size: Vector = standing
      ? sideways
        ? [MAT_THICK_M, across, long]
        : [long, across, MAT_THICK_M]
      : [long, MAT_THICK_M, across];
    return (
      <mesh position={at}>
        <boxGeometry args={size} />
        <meshStandardMaterial color={body} emissive={shine} emissiveIntensity={0.35 * bright} />
      </mesh>
    );
  }
  const turned = turnedInScene(fixture);
  if (lamp.shape === "line") {
    return (
      <group position={at} rotation={turned}>
        <mesh position={[0, 0.02, 0]}>
          <boxGeometry args={[long, 0.018, 0.05]} />
          <meshStandardMaterial color={body} roughness={0.4} />
        </mesh>
        <mesh rotation={[0, 0, Math.PI / 2]}>
          <cylinderGeometry args={[TUBE_RADIUS_M, TUBE_RADIUS_M, long, 10]} />
          <meshStandardMaterial color={shine} emissive={shine} emissiveIntensity={1.4 * bright} />
        </mesh>
        {lit &&
          [-0.3, 0.3].map((share) => (
            <pointLight
              key={share}
              position={[share * long, -0.02, 0]}
              color={shine}
              intensity={0.22}
              distance={2.5}
              decay={1.4}
            />
          ))}
      </group>
    );
  }
  if (lamp.shape === "panel") {
    return (
      <mesh position={at} rotation={turned}>
        <boxGeometry args={[long, PANEL_THICK_M, across]} />
        <meshStandardMaterial color={body} emissive={shine} emissiveIntensity={0.3 * bright} />
      </mesh>
    );
  }
  const drop = Math.max(0.05, p.z_m - d.substrate.depth_m);
  const half = ((lamp.fwhm_deg ?? USUAL_BEAM_DEG) / 2) * RADIANS;
  return (
    <group position={at} rotation={turned}>
      <mesh position={[0, 0.045, 0]} castShadow>
        <cylinderGeometry args={[0.35 * SOCKET_RADIUS_M, SOCKET_RADIUS_M, 0.09, 20, 1, true]} />
        <meshStandardMaterial color={body} roughness={0.4} side={2} />
      </mesh>
      <mesh position={[0, 0.018, 0]}>
        <sphereGeometry args={[0.75 * SOCKET_RADIUS_M, 16, 10]} />
        <meshStandardMaterial color={shine} emissive={shine} emissiveIntensity={1.2 * bright} />
      </mesh>
      {lit && lamp.gives_light && (
        <spotLight
          ref={(light) => {
            // It shines down from where it hangs, turned with it.
            if (light) {
              light.target.position.copy(new Vector3(0, -1, 0));
              light.add(light.target);
            }
          }}
          color={shine}
          intensity={1.6}
          angle={Math.min(1.2, 1.15 * half)}
          penumbra={0.6}
          distance={4}
          decay={1.6}
          castShadow
          shadow-mapSize={[512, 512]}
          shadow-camera-near={0.05}
          shadow-bias={-0.002}
        />
      )}
      {beam && lamp.gives_light && (
        <mesh position={[0, -drop / 2, 0]} raycast={() => null}>
          <cylinderGeometry
            args={[0.02, drop * Math.tan(Math.min(half, 1.1)), drop, 32, 1, true]}
          />
          <meshBasicMaterial
            color={shine}
            transparent
            opacity={0.13}
            depthWrite={false}
            side={2}
            clippingPlanes={inside}
          />
        </mesh>
      )}
    </group>
  );
}
