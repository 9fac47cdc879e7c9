import { Trash2 } from "lucide-react";
import type { Thermostat } from "../../api/types";
import { withoutThermostat, withThermostat } from "../../domain/plan/document";
import { fixed, show } from "../../domain/units/units";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { GRID } from "../../ui/grid";
import { Help } from "../../ui/Help";
import { NumberField } from "../../ui/NumberField";
import { NumberFields, type NumberRow } from "../../ui/NumberFields";
import { usePreferences } from "../../ui/preferences";
import { Caution, type FormProps } from "./forms";
import { PositionFields } from "./PositionFields";

/** A thermostat: kind, set points, probe. */
export function ThermostatForm(props: FormProps & { thermostat: Thermostat }) {
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
  return (
    <div>
      <div className={GRID}>
        <div>
          <div className="text-sm text-soft">Kind</div>
          <Choice
            label="Kind of thermostat"
            value={t.kind}
            onChange={(kind) => change({ kind }, KIND[kind])}
            options={[
              { value: "on_off", label: "On and off" },
              { value: "dimming", label: "Dimming" },
              { value: "pulse", label: "Pulse" },
            ]}
          />
        </div>
        <p className="self-end pb-1 text-sm text-soft" data-testid="thermostat-state">
          {state && state.set_point_c !== null && (
            <>
              The probe reads <strong className="text-ink">{degrees(state.probe_c)}</strong>;{" "}
              {state.holds
                ? `reached with ${fixed(100 * state.fraction, 0)} % of full power.`
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
        <NumberFields rows={t.kind === "on_off" ? TIMING : [RAMP]} of={t} onCommit={change} />
        <SetPoint
          label="Cut-out above"
          value={t.cut_out_c ?? null}
          otherwise={45}
          onPreview={(c) => preview({ cut_out_c: c })}
          onCommit={(c) =>
            change({ cut_out_c: c }, c === null ? "no cut-out" : `cut-out at ${degrees(c)}`)
          }
        />
        <PositionFields
          document={d}
          at={t.probe_m}
          names={{
            z: "Probe, above the enclosure floor",
            x: "Probe, from the left wall",
            y: "Probe, from the front",
          }}
          lowest={0}
          highest={d.enclosure.height_m}
          help={
            <Help about="the probe's place">
              The thermostat knows only what its probe feels. With the probe at the cool end the
              basking spot gets too hot; in the beam it feels the lamp and not the air. Within 1 cm
              of a surface it reads that surface; buried, it reads the ground.
            </Help>
          }
          onPreview={(part) => preview(probe(part))}
          onCommit={(part, where) => change(probe(part), `probe ${where}`)}
        />
        <div className="self-end">
          <Button
            size="small"
            onClick={() => edits.commit(withoutThermostat(d, t.id), `${t.label} removed`)}
          >
            <Trash2 size={15} aria-hidden />
            Remove this thermostat
          </Button>
        </div>
      </div>
      <Caution>
        A thermostat can fail with the heater on. Test that it switches off, and keep a thermometer
        that does not depend on it.
      </Caution>
    </div>
  );
}

const RAMP: NumberRow<Thermostat> = {
  key: "ramp_h",
  label: "Ramp between night and day",
  dimension: "duration",
  min: 0,
  max: 6,
  summary: (shown) => `ramp of ${shown}`,
};
const TIMING: readonly NumberRow<Thermostat>[] = [
  {
    key: "differential_k",
    label: "Differential",
    dimension: "difference",
    min: 0,
    max: 10,
    summary: (shown) => `differential ${shown}`,
    help: (
      <Help about="the differential">
        Between switching off and on again. Small ones control more closely and switch more often.
      </Help>
    ),
  },
  RAMP,
];

const KIND = {
  on_off: "switching on and off",
  dimming: "dimming",
  pulse: "pulsing",
} as const;

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
        {label.startsWith("Set point") ? label.replace("Set point ", "Heats ") : "Has one"}
      </label>
    </div>
  );
}
