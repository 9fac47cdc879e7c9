import { useState } from "react";
import type { LampDocument, LibraryLamp } from "../../api/types";
import { describe } from "../../app/notices";
import { Button } from "../../ui/Button";
import { Help } from "../../ui/Help";
import { NumberField } from "../../ui/NumberField";
import { Panel } from "../../ui/Panel";
import { SelectField } from "../../ui/SelectField";
import { asKind } from "./drafts";
import { KINDS } from "./library";
import { OwnReadings } from "./OwnReadings";
import { SpectrumFile } from "./SpectrumFile";

interface LampEditorProps {
  draft: LampDocument;
  /** The own lamp that is changed; null for a new one. */
  of: LibraryLamp | null;
  notes: readonly string[];
  busy: boolean;
  onClose: () => void;
  onSave: (document: LampDocument) => Promise<void>;
}

const ROW = "grid grid-cols-1 gap-x-5 gap-y-3 sm:grid-cols-2";

/** Add or change one of the keeper's own lamps. */
export function LampEditor({ draft, of, notes, busy, onClose, onSave }: LampEditorProps) {
  const [d, setD] = useState(draft);
  const [trouble, setTrouble] = useState<string | null>(null);
  const change = (part: Partial<LampDocument>) => setD((now) => ({ ...now, ...part }));
  const g = d.geometry;
  const hasUv = d.uv !== null && d.uv !== undefined;
  const save = async () => {
    setTrouble(null);
    try {
      await onSave({ ...d, label: d.label.trim() });
    } catch (error) {
      const { title, detail } = describe(error);
      setTrouble(`${title}. ${detail}`);
    }
  };
  return (
    <Panel
      open
      onOpenChange={(open) => !open && onClose()}
      title={of ? "Change this lamp" : "Add a lamp"}
      description="Your own lamps are listed with the shipped ones, in every enclosure."
    >
      {notes.map((note) => (
        <p key={note} className="mb-2 border-l-4 border-edge bg-wash px-3 py-1.5 text-sm">
          {note}
        </p>
      ))}
      <div className={ROW}>
        <label className="block sm:col-span-2">
          <span className="text-sm text-soft">Name</span>
          <input
            type="text"
            value={d.label}
            maxLength={80}
            onChange={(e) => change({ label: e.target.value })}
            className="h-9 w-full rounded-md border border-edge bg-raised px-2.5 font-medium"
          />
        </label>
        <SelectField
          label="Kind"
          value={d.kind}
          options={KINDS}
          onChange={(kind) => setD((now) => asKind(now, kind as LampDocument["kind"]))}
        />
        <NumberField
          label="Power"
          dimension="power"
          value={d.power_w}
          min={1}
          max={2000}
          onCommit={(w) =>
            change({ power_w: w, power_min_w: w, power_max_w: w, power_choices_w: [w] })
          }
        />
        <Shape geometry={g} onChange={(geometry) => change({ geometry })} />
      </div>

      {d.kind !== "bulb" && d.kind !== "heater" && d.kind !== "mat" && (
        <fieldset className="mt-4 border-t border-line pt-3">
          <legend className="float-left w-full font-semibold">Its UV</legend>
          <label className="clear-both flex min-h-9 items-center gap-2">
            <input
              type="checkbox"
              checked={hasUv}
              onChange={(e) =>
                change(
                  e.target.checked
                    ? {
                        uv: { uvi: 3, distance_m: 0.3 },
                        ageing: {
                          remaining: 0.55,
                          time_constant_h: 5000,
                          burn_in: 0.15,
                          life_h: 4500,
                        },
                      }
                    : { uv: null, ageing: null, readings: [] },
                )
              }
              className="size-4 accent-accent"
            />
            gives UVB
          </label>
          {d.uv && (
            <>
              <div className={ROW}>
                <NumberField
                  label="UV index"
                  dimension="uvi"
                  value={d.uv.uvi}
                  min={0.01}
                  max={500}
                  onCommit={(uvi) => d.uv && change({ uv: { ...d.uv, uvi } })}
                />
                <NumberField
                  label="at a distance of"
                  dimension="length"
                  value={d.uv.distance_m}
                  min={0.02}
                  max={5}
                  onCommit={(distance_m) => d.uv && change({ uv: { ...d.uv, distance_m } })}
                />
              </div>
              <OwnReadings document={d} onChange={change} />
              <SpectrumFile document={d} onChange={change} />
              {d.ageing && (
                <div className={`${ROW} mt-3`}>
                  <NumberField
                    label="UV left when old"
                    dimension="share"
                    value={d.ageing.remaining}
                    min={0}
                    max={1}
                    onCommit={(remaining) =>
                      d.ageing && change({ ageing: { ...d.ageing, remaining } })
                    }
                  />
                  <NumberField
                    label="Usual life"
                    dimension="hours"
                    value={d.ageing.life_h}
                    min={100}
                    max={50_000}
                    onCommit={(life_h) => d.ageing && change({ ageing: { ...d.ageing, life_h } })}
                  />
                </div>
              )}
            </>
          )}
        </fieldset>
      )}

      <fieldset className="mt-4 border-t border-line pt-3">
        <legend className="float-left w-full font-semibold">Where its watts go</legend>
        <div className={`${ROW} clear-both`}>
          <NumberField
            label="Radiation with the beam"
            dimension="share"
            value={d.forward_radiant}
            min={0}
            max={1 - d.other_radiant}
            onCommit={(forward_radiant) => change({ forward_radiant })}
            help={
              <Help about="shares">
                Light and heat radiation that leaves with the beam. What is left over warms the air
                at the lamp. Typical for the kind unless you know better.
              </Help>
            }
          />
          <NumberField
            label="Radiation to the sides"
            dimension="share"
            value={d.other_radiant}
            min={0}
            max={1 - d.forward_radiant}
            onCommit={(other_radiant) => change({ other_radiant })}
          />
        </div>
      </fieldset>

      {trouble && (
        <p role="alert" className="mt-3 border-l-4 border-high bg-high-wash px-3 py-2 text-sm">
          {trouble}
        </p>
      )}
      <div className="mt-4 flex justify-end gap-2">
        <Button tone="quiet" onClick={onClose}>
          Cancel
        </Button>
        <Button tone="strong" disabled={busy || !d.label.trim()} onClick={() => void save()}>
          {busy ? "Saving…" : of ? "Save" : "Add it to the library"}
        </Button>
      </div>
    </Panel>
  );
}

function Shape({
  geometry: g,
  onChange,
}: {
  geometry: LampDocument["geometry"];
  onChange: (g: LampDocument["geometry"]) => void;
}) {
  switch (g.shape) {
    case "line":
      return (
        <>
          <NumberField
            label="Bright length"
            dimension="length"
            value={g.length_m}
            min={0.02}
            max={3}
            onCommit={(length_m) => onChange({ ...g, length_m })}
          />
          <SelectField
            label="Reflector"
            value={g.reflector_exponent === null ? "none" : "yes"}
            options={[
              { value: "yes", label: "with reflector" },
              { value: "none", label: "bare, all round" },
            ]}
            onChange={(v) =>
              onChange({
                ...g,
                reflector_exponent: v === "none" ? null : 1,
                width_m: v === "none" ? 0.016 : 0.06,
              })
            }
          />
        </>
      );
    case "beam":
      return (
        <>
          <NumberField
            label="Beam, width at half strength"
            dimension="angle"
            value={g.fwhm_deg}
            min={4}
            max={170}
            onCommit={(fwhm_deg) => onChange({ ...g, fwhm_deg })}
          />
          <NumberField
            label="Bright diameter"
            dimension="length"
            value={g.diameter_m}
            min={0.005}
            max={0.5}
            onCommit={(diameter_m) => onChange({ ...g, diameter_m })}
          />
        </>
      );
    case "panel":
      return (
        <>
          <NumberField
            label="Length"
            dimension="length"
            value={g.length_m}
            min={0.02}
            max={3}
            onCommit={(length_m) => onChange({ ...g, length_m })}
          />
          <NumberField
            label="Width"
            dimension="length"
            value={g.width_m}
            min={0.02}
            max={3}
            onCommit={(width_m) => onChange({ ...g, width_m })}
          />
        </>
      );
    case "table":
      return (
        <p className="self-end text-sm text-soft">
          Light distribution from a file: {(g.c_deg ?? []).length} bearings,{" "}
          {(g.gamma_deg ?? []).length} angles.
        </p>
      );
  }
}
