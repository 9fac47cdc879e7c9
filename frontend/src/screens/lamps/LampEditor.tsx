import { useMutation } from "@tanstack/react-query";
import { Plus, X } from "lucide-react";
import { useRef, useState } from "react";
import { fitLamp, readLampFile } from "../../api/client";
import type { LampDocument, LampFit, ShelfLamp } from "../../api/types";
import { describe } from "../../app/notices";
import { usePreferences } from "../../app/preferences";
import { Button, IconButton } from "../../ui/Button";
import { Help } from "../../ui/Help";
import { NumberField } from "../../ui/NumberField";
import { Panel } from "../../ui/Panel";
import { SelectField } from "../../ui/SelectField";
import { fixed, show } from "../../units/units";
import { asKind } from "./drafts";
import { KINDS } from "./shelf";

interface LampEditorProps {
  draft: LampDocument;
  /** The own lamp that is changed; null for a new one. */
  of: ShelfLamp | null;
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
      description="A lamp of your own stands beside the shipped ones, in every box."
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

      {d.kind !== "bulb" && d.kind !== "heater" && (
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
              <Spectrum document={d} onChange={change} />
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
          {busy ? "Saving…" : of ? "Save" : "Put it on the shelf"}
        </Button>
      </div>
    </Panel>
  );
}

interface PartProps {
  document: LampDocument;
  onChange: (part: Partial<LampDocument>) => void;
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

/** Readings under the lamp at several distances, and the strength that suits them. */
function OwnReadings({ document: d, onChange }: PartProps) {
  const { units } = usePreferences();
  const readings = d.readings ?? [];
  const put = (next: typeof readings) => onChange({ readings: next });
  const fit = useMutation({
    mutationFn: () => fitLamp({ geometry: d.geometry, readings }),
    onSuccess: (found) =>
      onChange({
        uv: {
          uvi: Number(found.uvi.toPrecision(4)),
          distance_m: Number(found.distance_m.toFixed(3)),
        },
        sources: {
          ...d.sources,
          uv: `fitted to ${readings.length} readings of your own, misfit ${fixed(100 * found.misfit, 0)} %`,
        },
      }),
  });
  return (
    <div className="mt-3 rounded-lg border border-line p-3">
      <div className="flex items-center gap-1">
        <h3 className="flex-1 text-sm font-semibold">My readings</h3>
        <Help about="readings">
          Meter straight under the lamp's middle, facing it, no screen between, lamp on for half an
          hour. Two or more distances tell whether lamp and readings agree.
        </Help>
        <Button
          size="small"
          onClick={() => put([...readings, { distance_m: 0.3, uvi: d.uv?.uvi ?? 3 }])}
        >
          <Plus size={15} aria-hidden />
          Add a reading
        </Button>
      </div>
      <ul>
        {readings.map((r, i) => (
          <li key={i} className="mt-2 flex items-end gap-3">
            <NumberField
              label={`Distance ${i + 1}`}
              dimension="length"
              value={r.distance_m}
              min={0.02}
              max={5}
              onCommit={(distance_m) =>
                put(readings.map((old, k) => (k === i ? { ...old, distance_m } : old)))
              }
            />
            <NumberField
              label={`UV index ${i + 1}`}
              dimension="uvi"
              value={r.uvi}
              min={0.01}
              max={500}
              onCommit={(uvi) => put(readings.map((old, k) => (k === i ? { ...old, uvi } : old)))}
            />
            {fit.data?.deviations[i] !== undefined &&
              fit.data.deviations.length === readings.length && (
                <span className="pb-2 text-sm text-soft">
                  {fit.data.deviations[i] >= 0 ? "+" : "−"}
                  {fixed(100 * Math.abs(fit.data.deviations[i]), 0)} %
                </span>
              )}
            <IconButton
              label={`Remove reading ${i + 1}`}
              onClick={() => put(readings.filter((_, k) => k !== i))}
            >
              <X size={16} aria-hidden />
            </IconButton>
          </li>
        ))}
      </ul>
      {readings.length >= 2 && (
        <Button
          size="small"
          tone="strong"
          className="mt-3"
          disabled={fit.isPending}
          onClick={() => fit.mutate()}
        >
          Fit the lamp to them
        </Button>
      )}
      {fit.isError && (
        <p role="alert" className="mt-2 text-sm text-high">
          {describe(fit.error).detail}
        </p>
      )}
      {fit.data && (
        <FitVerdict
          fit={fit.data}
          what={d.geometry.shape === "line" ? "length" : "width"}
          size={(m) => show(m, "length", units, 0)}
        />
      )}
    </div>
  );
}

function FitVerdict({
  fit,
  what,
  size,
}: {
  fit: LampFit;
  what: string;
  size: (m: number) => string;
}) {
  const percent = `${fixed(100 * fit.misfit, 0)} %`;
  const fall = `Between your nearest and farthest reading UV falls like 1/d to the power ${fixed(fit.fall_off, 2)}; this lamp's shape gives ${fixed(fit.fall_off_expected, 2)}.`;
  return (
    <p
      role="status"
      data-testid="fit-verdict"
      className={`mt-3 border-l-4 px-3 py-2 text-sm ${fit.verdict === "good" ? "border-fit bg-fit-wash" : "border-high bg-high-wash"}`}
    >
      {fit.verdict === "good" && (
        <>
          <strong>Lamp and readings agree</strong> within {percent}. {fall}
        </>
      )}
      {fit.verdict === "other_size" && (
        <>
          <strong>They do not fit this lamp</strong> (misfit {percent}). {fall} A {what} of{" "}
          {size(fit.other_size_m ?? 0)} would suit them better: check it, and that distances are
          from the lamp itself.
        </>
      )}
      {fit.verdict === "impossible" && (
        <>
          <strong>No lamp of this kind gives these readings</strong> (misfit {percent}). {fall}{" "}
          Check the distances, that nothing was in between, and that the meter faced the lamp.
        </>
      )}
    </p>
  );
}

/** A spectrum file: its energy below 290 nm, and the UV index if it was measured in W/m²/nm. */
function Spectrum({ document: d, onChange }: PartProps) {
  const picker = useRef<HTMLInputElement>(null);
  const read = useMutation({
    mutationFn: async (file: File) => {
      const result = await readLampFile(file.name, await file.text());
      if (!result.spectrum) throw new Error("This file holds no spectrum; a CSV is wanted here.");
      return { ...result, spectrum: result.spectrum };
    },
    onSuccess: ({ spectrum }) => onChange({ below_290_share: spectrum.below_290_share }),
  });
  const s = read.data?.spectrum;
  return (
    <div className="mt-3 rounded-lg border border-line p-3">
      <div className="flex items-center gap-1">
        <h3 className="flex-1 text-sm font-semibold">Its spectrum</h3>
        <Help about="spectrum">
          A CSV of two columns: wavelength in nm, and irradiance in W/m²/nm or any other unit.
        </Help>
        <input
          ref={picker}
          type="file"
          accept=".csv,.txt,.tsv"
          aria-label="Spectrum file"
          className="sr-only"
          tabIndex={-1}
          data-testid="spectrum-file"
          onChange={(e) => {
            const file = e.target.files?.[0];
            e.target.value = "";
            if (file) read.mutate(file);
          }}
        />
        <Button size="small" onClick={() => picker.current?.click()} disabled={read.isPending}>
          Read a spectrum
        </Button>
      </div>
      {read.isError && (
        <p role="alert" className="mt-2 text-sm text-high">
          {describe(read.error).detail}
        </p>
      )}
      {s && read.data && (
        <div className="mt-2 text-sm" data-testid="spectrum-result">
          <p>
            {s.rows} rows, {fixed(s.low_nm, 0)} to {fixed(s.high_nm, 0)} nm. UV that makes vitamin
            D₃ to UV that reddens skin: <strong>{fixed(s.d3_ratio, 2)}</strong>. If it is in
            W/m²/nm: UV index <strong>{fixed(s.uvi, 1)}</strong>, D₃-effective{" "}
            {fixed(1000 * s.d3_effective_w_m2, 1)} mW/m² where it was measured.{" "}
            <button
              type="button"
              className="font-semibold text-accent underline"
              onClick={() =>
                d.uv && onChange({ uv: { ...d.uv, uvi: Number(s.uvi.toPrecision(4)) } })
              }
            >
              Take that UV index
            </button>
          </p>
          {s.unlike_sunlight && (
            <p className="mt-2 border-l-4 border-high bg-high-wash px-3 py-2">
              <strong>Caution. </strong>
              {fixed(100 * s.below_290_share, 1)} % of its UV index comes from below 290 nm, which
              sunlight does not hold: do not use it over animals.
            </p>
          )}
          {read.data.notes.map((note) => (
            <p key={note} className="mt-1 text-soft">
              {note}
            </p>
          ))}
        </div>
      )}
    </div>
  );
}
