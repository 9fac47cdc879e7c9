import type { Fixture } from "../../api/types";
import {
  against,
  highestLamp,
  mounted,
  outsideRoom,
  thermostatsOf,
  withFixture,
} from "../../domain/plan/document";
import { fixtureActions } from "../../domain/plan/itemActions";
import { screenOptions } from "../../domain/plan/screens";
import { fixed, show } from "../../domain/units/units";
import { CheckField } from "../../ui/CheckField";
import { GRID } from "../../ui/grid";
import { Help } from "../../ui/Help";
import { NumberField } from "../../ui/NumberField";
import { NumberFields, type NumberRow } from "../../ui/NumberFields";
import { usePreferences } from "../../ui/preferences";
import { SelectField } from "../../ui/SelectField";
import { TextField } from "../../ui/TextField";
import { ActionButtons } from "./ActionButtons";
import { Caution, type FormProps } from "./forms";
import { PositionFields } from "./PositionFields";

const OUTSIDE_HELP = (
  <Help about="a lamp outside">
    A lamp may stand outside a side that is glass, mesh or open: less than 0 from the left or the
    front, or more than the enclosure is long or deep. Lean or tilt it so that it shines in. Glass
    stops its UV, and its heat stays in the room.
  </Help>
);

const KIND_GROUP: Record<string, string> = {
  tube: "Tubes",
  bulb: "Bulbs",
  compact: "Compact lamps",
  "mercury vapour": "Mercury vapour bulbs",
  "metal halide": "Metal halide bulbs",
  led: "LED bars and panels",
  heater: "Heaters without light",
  mat: "Mats and cables",
};

const ANGLES: readonly NumberRow<Fixture>[] = (
  [
    {
      key: "turn_deg",
      label: "Turned",
      max: 180,
      help: "About the vertical, anticlockwise seen from above; at 0 a tube lies from left to right.",
    },
    {
      key: "lean_deg",
      label: "Leaning",
      max: 90,
      help: "The beam swings to the right, so the right end of a tube comes up.",
    },
    {
      key: "tilt_deg",
      label: "Tilted",
      max: 90,
      help: "The beam swings to the back, about the lamp's own length.",
    },
  ] as const
).map(({ key, label, max, help }) => ({
  key,
  label,
  dimension: "angle",
  min: -max,
  max,
  live: true,
  summary: (shown) => `${label.toLowerCase()} ${shown}`,
  help: <Help about={label.toLowerCase()}>{help}</Help>,
}));

const HOURS: readonly NumberRow<Fixture["timer"][number]>[] = [
  {
    key: "on_h",
    label: "On at",
    dimension: "duration",
    min: 0,
    max: 24,
    summary: (shown) => `on at ${shown}`,
  },
  {
    key: "off_h",
    label: "Off at",
    dimension: "duration",
    min: 0,
    max: 24,
    summary: (shown) => `off at ${shown}`,
  },
];

const MOUNTS = [
  { value: "floor", label: "Under the floor" },
  { value: "back", label: "Behind the enclosure" },
  { value: "left", label: "Against the left side" },
  { value: "right", label: "Against the right side" },
] as const;

const FIXINGS = [
  { value: "air", label: "Not stated" },
  { value: "screwed", label: "Screwed to the lid" },
  { value: "hung", label: "Hung on a chain or wire" },
  { value: "on_mesh", label: "Resting on the mesh lid" },
  { value: "clamped", label: "Clamped" },
  { value: "on_wall", label: "Screwed to a wall" },
] as const;

const LIT: Record<string, string> = {
  day: "with the day",
  night: "by night",
  always: "day and night",
};

/** A lamp: kind, power, place, screen, age, control. */
export function FixtureForm(
  props: FormProps & { fixture: Fixture; onSelect: (id: string) => void },
) {
  const { document: d, catalog, evaluation, edits, fixture: f } = props;
  const { units } = usePreferences();
  const screens = screenOptions(catalog);
  const screen = screens.find((s) => s.value === f.screen_id);
  const lamp = catalog.lamps.find((l) => l.id === f.lamp_id);
  if (!lamp) return null;
  const change = (part: Partial<Fixture>, summary: string) =>
    edits.commit(withFixture(d, f.id, part), `${f.label}: ${summary}`);
  const place = (part: Partial<Fixture["position_m"]>) => ({
    position_m: { ...f.position_m, ...part },
  });
  const preview = (part: Partial<Fixture>) => edits.preview(withFixture(d, f.id, part));
  const share = evaluation?.power_fraction[f.id];
  const length = (m: number) => show(m, "length", units);
  const isMat = lamp.kind === "mat";

  return (
    <div>
      <div className={GRID}>
        <SelectField
          label="Lamp"
          value={f.lamp_id}
          options={catalog.lamps.map((l) => ({
            value: l.id,
            label: l.label,
            group: l.own ? "Your own" : (KIND_GROUP[l.kind] ?? l.kind),
          }))}
          help={
            <Help about="this lamp">
              <p className="font-medium">{lamp.label}</p>
              {lamp.uvi_at_reference !== null && lamp.reference_distance_m !== null && (
                <p className="mt-1">
                  UVI {fixed(lamp.uvi_at_reference, 1)} at {length(lamp.reference_distance_m)},
                  facing it, no mesh.
                </p>
              )}
              <p className="mt-1 text-soft">{lamp.source}.</p>
            </Help>
          }
          onChange={(id) => {
            const next = catalog.lamps.find((l) => l.id === id);
            if (!next) return;
            const keeps = f.power_w >= next.power_min_w && f.power_w <= next.power_max_w;
            const control = d.thermostats?.find((t) => t.id === f.thermostat_id);
            // A lamp that must not be switched by a thermostat comes off it; say so in the history.
            const unfit = control !== undefined && !next.controls.includes(control.kind);
            change(
              {
                lamp_id: id,
                power_w: keeps ? f.power_w : next.power_w,
                hours: 100,
                ...mounted(d, f, next),
                ...(unfit && next.controls.length === 0 ? { thermostat_id: null } : {}),
              },
              next.label,
            );
          }}
        />
        {isMat && (
          <SelectField
            label="Lies"
            value={f.mount}
            options={MOUNTS.map(({ value, label }) => ({ value, label }))}
            onChange={(id) => {
              const mount = id as (typeof MOUNTS)[number]["value"];
              const { x_m, y_m, z_m } = f.position_m;
              const at = {
                floor: { x_m, y_m, z_m: 0 },
                back: { x_m, y_m: d.enclosure.depth_m, z_m: z_m || d.enclosure.height_m / 3 },
                left: { x_m: 0, y_m, z_m: z_m || d.enclosure.height_m / 3 },
                right: { x_m: d.enclosure.length_m, y_m, z_m: z_m || d.enclosure.height_m / 3 },
              }[mount];
              change(
                { mount, position_m: at },
                MOUNTS.find((m) => m.value === mount)?.label.toLowerCase() ?? mount,
              );
            }}
            help={
              <Help about="where a mat lies">
                Under the floor it warms the ground from below, the wrong way for an animal that
                digs down to cool off. It needs air behind it and a thermostat whose probe lies
                where the animal lies.
              </Help>
            }
          />
        )}
        {!isMat && (
          <SelectField
            label="Fixed"
            value={f.mount ?? "air"}
            options={FIXINGS.map(({ value, label }) => ({ value, label }))}
            onChange={(id) =>
              change(
                { mount: id as Fixture["mount"] },
                FIXINGS.find((m) => m.value === id)?.label.toLowerCase() ?? id,
              )
            }
            help={
              <Help about="how a lamp is fixed">
                Clamps slip and chains swing; mesh under a lamp gets as hot as the lamp. Hot lamps
                are checked by how they are fixed.
              </Help>
            }
          />
        )}
        {!isMat && (
          <SelectField
            label="Screen below it"
            value={f.screen_id ?? ""}
            options={[{ value: "", label: "No screen" }, ...screens]}
            help={
              <Help about="screens">
                A mesh stops more UV and heat than it seems to, most of all light that comes in at a
                slant. Glass and plastic stop UVB unless made to pass it. A lamp above the lid also
                shines through the lid.
              </Help>
            }
            onChange={(id) =>
              change(
                { screen_id: id === "" ? null : id, screen_measured: null },
                screens.find((s) => s.value === id)?.label ?? "no screen",
              )
            }
          />
        )}
        {screen && (
          <NumberField
            label="UV that passes it"
            dimension="share"
            value={f.screen_measured ?? screen.passes}
            min={0}
            max={1}
            onCommit={(share) =>
              change({ screen_measured: share }, `screen passes ${fixed(100 * share, 0)} %`)
            }
            help={
              <Help about="measured share">
                UV index straight below the screen divided by that without it, if you have measured
                it. Until then it is computed from wire and openings.
              </Help>
            }
          />
        )}
        <NumberField
          label="Power"
          dimension="power"
          value={f.power_w}
          min={lamp.power_min_w}
          max={lamp.power_max_w}
          disabled={lamp.power_min_w === lamp.power_max_w}
          onPreview={(w) => preview({ power_w: w })}
          onCommit={(w) => change({ power_w: w }, `${fixed(w, 0)} W`)}
          help={
            lamp.power_min_w === lamp.power_max_w ? (
              <Help about="power">This tube has one wattage; choose another lamp instead.</Help>
            ) : (
              <Help about="power">
                Sold as {lamp.power_choices_w.map((w) => fixed(w, 0)).join(", ")} W.
              </Help>
            )
          }
        />
        <PositionFields
          document={d}
          at={f.position_m}
          names={{
            z: "Height above the enclosure floor",
            x: "From the left wall",
            y: "From the front",
          }}
          lowest={isMat ? 0 : d.substrate.depth_m + 0.01}
          highest={f.mount === "floor" ? 0 : isMat ? d.enclosure.height_m : highestLamp(d)}
          {...(against(f) === null && { room: outsideRoom(d, catalog), help: OUTSIDE_HELP })}
          onPreview={(part) => preview(place(part))}
          onCommit={(part, where) => change(place(part), where)}
        />
        {!isMat && <NumberFields rows={ANGLES} of={f} onPreview={preview} onCommit={change} />}
        {lamp.life_h !== null && (
          <NumberField
            label="Hours burned"
            dimension="hours"
            value={f.hours}
            min={0}
            max={Math.max(10_000, f.hours)}
            onPreview={(h) => preview({ hours: h })}
            onCommit={(h) => change({ hours: h }, `${fixed(h, 0)} h burned`)}
            help={
              <Help about="hours burned">
                A lamp looks bright long after its UV is gone. Lamps of this kind are usually
                replaced after about {fixed(lamp.life_h, 0)} h (estimate); only a UV meter knows.
              </Help>
            }
          />
        )}
        {against(f) === null && (
          <CheckField
            label="Behind a guard"
            checked={f.guard ?? false}
            onChange={(guard) => change({ guard }, guard ? "guarded" : "no guard")}
            help={
              <Help about="guards">
                A cage around the lamp that the animal cannot open, far enough from the bulb not to
                get hot itself.
              </Help>
            }
          />
        )}
        <SelectField
          label="Comes on"
          value={f.timer?.length ? "timer" : f.lit}
          options={[
            { value: "day", label: "With the day" },
            { value: "night", label: "By night" },
            { value: "always", label: "Day and night" },
            { value: "timer", label: "At its own hours" },
          ]}
          onChange={(id) =>
            id === "timer"
              ? change({ timer: [{ on_h: 9, off_h: 17 }] }, "on from 9 to 17 h")
              : change({ lit: id as Fixture["lit"], timer: [] }, `on ${LIT[id] ?? id}`)
          }
        />
        {f.timer?.map((t, i) => (
          <div key={`${t.on_h}-${t.off_h}`} className="flex gap-3">
            <NumberFields
              rows={HOURS}
              of={t}
              onCommit={(part, summary) =>
                change(
                  { timer: f.timer.map((other, k) => (k === i ? { ...other, ...part } : other)) },
                  summary,
                )
              }
            />
          </div>
        ))}
        <SelectField
          label="Controlled by"
          value={f.thermostat_id ?? ""}
          options={[
            { value: "", label: "Timer only" },
            ...thermostatsOf(d).map((t) => ({ value: t.id, label: t.label })),
          ]}
          onChange={(id) =>
            change(
              { thermostat_id: id === "" ? null : id },
              id === "" ? "timer only" : "on a thermostat",
            )
          }
        />
        <TextField
          label="Name"
          value={f.label}
          most={80}
          onCommit={(label) => change({ label }, `now called ${label}`)}
        />
        <ActionButtons
          actions={fixtureActions(d, f)}
          edits={edits}
          onSelect={props.onSelect}
          remove="Remove this lamp"
        />
        <div className="self-end pb-2 text-sm text-soft">
          {share !== undefined && (
            <>
              By day it draws{" "}
              <strong className="text-ink">
                {fixed(f.power_w * share, 0)} W of {fixed(f.power_w, 0)} W
              </strong>{" "}
              on average.
            </>
          )}
        </div>
      </div>
      <Caution>
        {lamp.uvi_at_reference !== null
          ? "UVB lamps harm eyes: do not look into them, and keep people's faces out of the light."
          : "Hot lamps burn animals and start fires: a fixed fitting rated for the lamp, a guard the animal cannot lever off, and distance to anything that burns."}{" "}
        Electrical work by local code and a qualified electrician.
      </Caution>
    </div>
  );
}
