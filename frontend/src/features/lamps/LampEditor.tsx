import { useState } from "react";
import type { LampDocument, LibraryLamp } from "../../api/types";
import { describe } from "../../app/notices";
import { Button } from "../../ui/Button";
import { Help } from "../../ui/Help";
import { NumberField } from "../../ui/NumberField";
import { NumberFields, type NumberRow } from "../../ui/NumberFields";
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

type Geometry<S extends LampDocument["geometry"]["shape"]> = Extract<
  LampDocument["geometry"],
  { shape: S }
>;

const UV_ROWS: readonly NumberRow<NonNullable<LampDocument["uv"]>>[] = [
  { key: "uvi", label: "UV index", dimension: "uvi", min: 0.01, max: 500 },
  { key: "distance_m", label: "at a distance of", dimension: "length", min: 0.02, max: 5 },
];
const AGEING_ROWS: readonly NumberRow<NonNullable<LampDocument["ageing"]>>[] = [
  { key: "remaining", label: "UV left when old", dimension: "share", min: 0, max: 1 },
  { key: "life_h", label: "Usual life", dimension: "hours", min: 100, max: 50_000 },
];
const LINE_ROWS: readonly NumberRow<Geometry<"line">>[] = [
  { key: "length_m", label: "Bright length", dimension: "length", min: 0.02, max: 3 },
];
const BEAM_ROWS: readonly NumberRow<Geometry<"beam">>[] = [
  { key: "fwhm_deg", label: "Beam, width at half strength", dimension: "angle", min: 4, max: 170 },
  { key: "diameter_m", label: "Bright diameter", dimension: "length", min: 0.005, max: 0.5 },
];
const PANEL_ROWS: readonly NumberRow<Geometry<"panel">>[] = [
  { key: "length_m", label: "Length", dimension: "length", min: 0.02, max: 3 },
  { key: "width_m", label: "Width", dimension: "length", min: 0.02, max: 3 },
];

const shareRows = (d: LampDocument): readonly NumberRow<LampDocument>[] => [
  {
    key: "forward_radiant",
    label: "Radiation with the beam",
    dimension: "share",
    min: 0,
    max: 1 - d.other_radiant,
    help: (
      <Help about="shares">
        Light and heat radiation that leaves with the beam. What is left over warms the air at the
        lamp. Typical for the kind unless you know better.
      </Help>
    ),
  },
  {
    key: "other_radiant",
    label: "Radiation to the sides",
    dimension: "share",
    min: 0,
    max: 1 - d.forward_radiant,
  },
];

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
          <label className="clear-both flex min-h-9 items-center gap-2 pointer-coarse:min-h-11">
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
                <NumberFields
                  rows={UV_ROWS}
                  of={d.uv}
                  onCommit={(part) => d.uv && change({ uv: { ...d.uv, ...part } })}
                />
              </div>
              <OwnReadings document={d} onChange={change} />
              <SpectrumFile document={d} onChange={change} />
              {d.ageing && (
                <div className={`${ROW} mt-3`}>
                  <NumberFields
                    rows={AGEING_ROWS}
                    of={d.ageing}
                    onCommit={(part) => d.ageing && change({ ageing: { ...d.ageing, ...part } })}
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
          <NumberFields rows={shareRows(d)} of={d} onCommit={change} />
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
  const put = (part: object) => onChange({ ...g, ...part });
  switch (g.shape) {
    case "line":
      return (
        <>
          <NumberFields rows={LINE_ROWS} of={g} onCommit={put} />
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
      return <NumberFields rows={BEAM_ROWS} of={g} onCommit={put} />;
    case "panel":
      return <NumberFields rows={PANEL_ROWS} of={g} onCommit={put} />;
    case "table":
      return (
        <p className="self-end text-sm text-soft">
          Light distribution from a file: {(g.c_deg ?? []).length} bearings,{" "}
          {(g.gamma_deg ?? []).length} angles.
        </p>
      );
  }
}
