import { Tabs } from "radix-ui";
import type { Catalog, Evaluation, Fixture, PlanDocument, Thermostat } from "../../api/types";
import { usePreferences } from "../../app/preferences";
import {
  deepestSubstrate,
  fixturesOf,
  highestLamp,
  thermostatsOf,
  withFixture,
  withThermostat,
} from "../../plan/document";
import type { StageEdits } from "../../stage/SectionStage";
import { Choice } from "../../ui/Choice";
import { Help } from "../../ui/Help";
import { NumberField } from "../../ui/NumberField";
import { SelectField } from "../../ui/SelectField";
import { fixed, show } from "../../units/units";

interface InspectorProps {
  document: PlanDocument;
  evaluation: Evaluation | null;
  catalog: Catalog;
  selected: string;
  onSelect: (id: string) => void;
  edits: StageEdits;
}

/** Everything about the selected thing, typed or slid. */
export function Inspector(props: InspectorProps) {
  const { document: d, selected, onSelect } = props;
  const tabs = [
    ...fixturesOf(d).map((f) => ({ id: f.id, label: f.label })),
    ...thermostatsOf(d).map((t) => ({ id: t.id, label: t.label })),
    { id: "substrate", label: "Substrate" },
    { id: "room", label: "Room" },
  ];
  return (
    <Tabs.Root value={selected} onValueChange={onSelect} activationMode="manual">
      <Tabs.List
        aria-label="Parts of the plan"
        className="flex flex-wrap gap-1 border-y border-line bg-ground px-2 py-1.5"
      >
        {tabs.map((tab) => (
          <Tabs.Trigger
            key={tab.id}
            value={tab.id}
            className="min-h-9 rounded-md px-3 text-sm font-medium whitespace-nowrap text-soft hover:bg-wash data-[state=active]:bg-accent data-[state=active]:text-accent-ink"
          >
            {tab.label}
          </Tabs.Trigger>
        ))}
      </Tabs.List>
      {fixturesOf(d).map((f) => (
        <Tabs.Content key={f.id} value={f.id} className="p-4">
          <FixtureForm {...props} fixture={f} />
        </Tabs.Content>
      ))}
      {thermostatsOf(d).map((t) => (
        <Tabs.Content key={t.id} value={t.id} className="p-4">
          <ThermostatForm {...props} thermostat={t} />
        </Tabs.Content>
      ))}
      <Tabs.Content value="substrate" className="p-4">
        <SubstrateForm {...props} />
      </Tabs.Content>
      <Tabs.Content value="room" className="p-4">
        <RoomForm {...props} />
      </Tabs.Content>
    </Tabs.Root>
  );
}

const GRID = "grid grid-cols-1 gap-x-6 gap-y-3 sm:grid-cols-2 xl:grid-cols-3";
const KIND_GROUP: Record<string, string> = {
  tube: "Tubes",
  bulb: "Bulbs",
  compact: "Compact lamps",
  "mercury vapour": "Mercury vapour bulbs",
  "metal halide": "Metal halide bulbs",
  led: "LED bars and panels",
  heater: "Heaters without light",
};

function FixtureForm(props: InspectorProps & { fixture: Fixture }) {
  const { document: d, catalog, evaluation, edits, fixture: f } = props;
  const { units } = usePreferences();
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

  return (
    <div>
      <div className={GRID}>
        <SelectField
          label="Lamp"
          value={f.lamp_id}
          options={catalog.lamps.map((l) => ({
            value: l.id,
            label: l.label,
            group: KIND_GROUP[l.kind] ?? l.kind,
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
                ...(unfit && next.controls.length === 0 ? { thermostat_id: null } : {}),
              },
              next.label,
            );
          }}
        />
        <SelectField
          label="Screen below it"
          value={f.screen_id ?? ""}
          options={[
            { value: "", label: "No mesh" },
            ...catalog.meshes.map((m) => ({
              value: m.id,
              label: `${m.label} (${fixed(100 * m.open_fraction, 0)} % open)`,
            })),
          ]}
          help={
            <Help about="mesh">
              A mesh takes more than its wires seem to: light that comes in at a slant loses more
              still. Both UV and heat are lessened.
            </Help>
          }
          onChange={(id) =>
            change(
              { screen_id: id === "" ? null : id },
              catalog.meshes.find((m) => m.id === id)?.label ?? "no mesh",
            )
          }
        />
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
        <NumberField
          label="Height above the box floor"
          dimension="length"
          value={f.position_m.z_m}
          min={d.substrate.depth_m + 0.01}
          max={highestLamp(d)}
          onPreview={(z) => preview(place({ z_m: z }))}
          onCommit={(z) => change(place({ z_m: z }), `${length(z)} above the floor`)}
        />
        <NumberField
          label="From the left wall"
          dimension="length"
          value={f.position_m.x_m}
          min={0}
          max={d.box.length_m}
          onPreview={(x) => preview(place({ x_m: x }))}
          onCommit={(x) => change(place({ x_m: x }), `${length(x)} from the left`)}
        />
        <NumberField
          label="From the front"
          dimension="length"
          value={f.position_m.y_m}
          min={0}
          max={d.box.depth_m}
          onPreview={(y) => preview(place({ y_m: y }))}
          onCommit={(y) => change(place({ y_m: y }), `${length(y)} from the front`)}
        />
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
                A lamp stays bright long after its UV has gone. Lamps of this kind are usually
                replaced after about {fixed(lamp.life_h, 0)} h (estimate); only a UV meter knows.
              </Help>
            }
          />
        )}
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

function ThermostatForm(props: InspectorProps & { thermostat: Thermostat }) {
  const { document: d, evaluation, edits, thermostat: t } = props;
  const { units } = usePreferences();
  const change = (part: Partial<Thermostat>, summary: string) =>
    edits.commit(withThermostat(d, t.id, part), `${t.label}: ${summary}`);
  const preview = (part: Partial<Thermostat>) => edits.preview(withThermostat(d, t.id, part));
  const probe = (part: Partial<Thermostat["probe_m"]>) => ({
    probe_m: { ...t.probe_m, ...part },
  });
  const state = evaluation?.thermostats.find((s) => s.id === t.id);
  const degrees = (c: number) => show(c, "temperature", units, 1);
  const length = (m: number) => show(m, "length", units);
  return (
    <div>
      <div className={GRID}>
        <div>
          <div className="text-sm text-soft">Kind</div>
          <Choice
            label="Kind of thermostat"
            value={t.kind}
            onChange={(kind) =>
              change({ kind }, kind === "dimming" ? "dimming" : "switching on and off")
            }
            options={[
              { value: "on_off", label: "On and off" },
              { value: "dimming", label: "Dimming" },
            ]}
          />
        </div>
        <p className="self-end pb-1 text-sm text-soft" data-testid="thermostat-state">
          {state && state.set_point_c !== null && (
            <>
              The probe reads <strong className="text-ink">{degrees(state.probe_c)}</strong>;{" "}
              {state.holds
                ? `held with ${fixed(100 * state.fraction, 0)} % of full power.`
                : state.fraction > 0.99
                  ? "full power is not enough to reach the set point."
                  : "warm enough without heating."}
            </>
          )}
        </p>
        <SetPoint
          label="Set point by day"
          value={t.day_set_point_c}
          otherwise={28}
          onPreview={(c) => preview({ day_set_point_c: c })}
          onCommit={(c) =>
            change({ day_set_point_c: c }, c === null ? "off by day" : `${degrees(c)} by day`)
          }
        />
        <SetPoint
          label="Set point by night"
          value={t.night_set_point_c ?? null}
          otherwise={20}
          onPreview={(c) => preview({ night_set_point_c: c })}
          onCommit={(c) =>
            change({ night_set_point_c: c }, c === null ? "off by night" : `${degrees(c)} by night`)
          }
        />
        <NumberField
          label="Probe, from the left wall"
          dimension="length"
          value={t.probe_m.x_m}
          min={0}
          max={d.box.length_m}
          onPreview={(x) => preview(probe({ x_m: x }))}
          onCommit={(x) => change(probe({ x_m: x }), `probe ${length(x)} from the left`)}
          help={
            <Help about="the probe's place">
              The thermostat only knows what its probe feels. At the cool end it drives the basking
              place too hot; in the beam it feels the lamp and not the air. Within 1 cm of a surface
              it reads that surface.
            </Help>
          }
        />
        <NumberField
          label="Probe, above the box floor"
          dimension="length"
          value={t.probe_m.z_m}
          min={d.substrate.depth_m}
          max={d.box.height_m}
          onPreview={(z) => preview(probe({ z_m: z }))}
          onCommit={(z) => change(probe({ z_m: z }), `probe ${length(z)} above the floor`)}
        />
        <NumberField
          label="Probe, from the front"
          dimension="length"
          value={t.probe_m.y_m}
          min={0}
          max={d.box.depth_m}
          onPreview={(y) => preview(probe({ y_m: y }))}
          onCommit={(y) => change(probe({ y_m: y }), `probe ${length(y)} from the front`)}
        />
      </div>
      <Caution>
        A thermostat can fail with the heater on. Test that it switches off, and keep a thermometer
        that does not depend on it.
      </Caution>
    </div>
  );
}

interface SetPointProps {
  label: string;
  value: number | null;
  otherwise: number;
  onPreview: (value: number) => void;
  onCommit: (value: number | null) => void;
}

function SetPoint({ label, value, otherwise, onPreview, onCommit }: SetPointProps) {
  const off = value === null;
  return (
    <div>
      {off ? (
        <div>
          <div className="text-sm text-soft">{label}</div>
          <div className="flex h-9 items-center font-medium">Off</div>
        </div>
      ) : (
        <NumberField
          label={label}
          dimension="temperature"
          value={value}
          min={0}
          max={60}
          onPreview={onPreview}
          onCommit={onCommit}
        />
      )}
      <label className="mt-1 flex min-h-7 items-center gap-2 text-sm">
        <input
          type="checkbox"
          checked={!off}
          onChange={(e) => onCommit(e.target.checked ? otherwise : null)}
          className="size-4 accent-accent"
        />
        {label.replace("Set point ", "Heats ")}
      </label>
    </div>
  );
}

function SubstrateForm({ document: d, catalog, edits }: InspectorProps) {
  const { units } = usePreferences();
  const change = (part: Partial<PlanDocument["substrate"]>) => ({
    ...d,
    substrate: { ...d.substrate, ...part },
  });
  const litres = d.box.length_m * d.box.depth_m * d.substrate.depth_m * 1000;
  return (
    <div>
      <div className={GRID}>
        <SelectField
          label="Material"
          value={d.substrate.material_id}
          options={catalog.materials
            .filter((m) => m.uses.includes("substrate"))
            .map((m) => ({ value: m.id, label: m.label }))}
          onChange={(id) =>
            edits.commit(
              change({ material_id: id }),
              `Substrate: ${catalog.materials.find((m) => m.id === id)?.label ?? id}`,
            )
          }
        />
        <NumberField
          label="Depth"
          dimension="length"
          value={d.substrate.depth_m}
          min={0}
          max={deepestSubstrate(d)}
          onPreview={(m) => edits.preview(change({ depth_m: m }))}
          onCommit={(m) =>
            edits.commit(change({ depth_m: m }), `Substrate ${show(m, "length", units)} deep`)
          }
          help={
            <Help about="depth">
              Everything on it rises with the substrate: deeper ground brings the animal nearer to
              the lamps.
            </Help>
          }
        />
      </div>
      <p className="mt-3 text-sm text-soft">About {fixed(litres, 0)} litres fill this floor.</p>
    </div>
  );
}

function RoomForm({ document: d, edits }: InspectorProps) {
  const { units } = usePreferences();
  const change = (part: Partial<PlanDocument["room"]>) => ({ ...d, room: { ...d.room, ...part } });
  const degrees = (c: number) => show(c, "temperature", units, 1);
  return (
    <div className={GRID}>
      <NumberField
        label="Room by day"
        dimension="temperature"
        value={d.room.day_temperature_c}
        min={-30}
        max={60}
        onPreview={(c) => edits.preview(change({ day_temperature_c: c }))}
        onCommit={(c) =>
          edits.commit(change({ day_temperature_c: c }), `Room ${degrees(c)} by day`)
        }
        help={
          <Help about="room temperature">
            The same box wants a bigger lamp in a cold room and a smaller one in a warm room. Try
            your coldest and your warmest day.
          </Help>
        }
      />
      <NumberField
        label="Room by night"
        dimension="temperature"
        value={d.room.night_temperature_c}
        min={-30}
        max={60}
        onPreview={(c) => edits.preview(change({ night_temperature_c: c }))}
        onCommit={(c) =>
          edits.commit(change({ night_temperature_c: c }), `Room ${degrees(c)} by night`)
        }
      />
    </div>
  );
}

function Caution({ children }: { children: React.ReactNode }) {
  return (
    <p className="mt-4 border-l-4 border-high bg-high-wash px-3 py-2 text-sm">
      <strong>Caution. </strong>
      {children}
    </p>
  );
}
