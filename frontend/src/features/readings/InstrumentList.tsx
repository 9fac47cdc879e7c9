import { useQueryClient } from "@tanstack/react-query";
import { Trash2 } from "lucide-react";
import { useState } from "react";
import { putInstrument, removeInstrument } from "../../api/readings";
import type { Instrument } from "../../api/types";
import { useNotify } from "../../app/notices";
import { useQueuedMutation } from "../../app/useQueuedMutation";
import { freshId } from "../../domain/readings/kinds";
import type { Dimension } from "../../domain/units/units";
import { Button, IconButton } from "../../ui/Button";
import { Help } from "../../ui/Help";
import { NumberField } from "../../ui/NumberField";
import { SelectField } from "../../ui/SelectField";
import { TextField } from "../../ui/TextField";

const KINDS: readonly Instrument["kind"][] = [
  "infrared thermometer",
  "air probe",
  "UV meter",
  "hygrometer",
  "room thermometer",
];
/** How ± is written, what is usual, and the most that makes sense. */
const STATED: Record<Instrument["kind"], [Dimension, number, number]> = {
  "infrared thermometer": ["difference", 1.5, 10],
  "air probe": ["difference", 0.5, 5],
  "UV meter": ["share", 0.1, 0.5],
  hygrometer: ["share", 0.05, 0.3],
  "room thermometer": ["difference", 0.5, 5],
};

/** What the list is asked for and stored under. */
const LISTED = ["instruments"];

/** The keeper's own instruments: a surer one narrows what its readings leave open. */
export function InstrumentList({ instruments }: { instruments: readonly Instrument[] }) {
  const cache = useQueryClient();
  const notify = useNotify();
  const [kind, setKind] = useState<Instrument["kind"]>("infrared thermometer");
  const runQueued = useQueuedMutation(["instruments", "predictions"]);
  // Shown at once: a second field is often filled before the first is stored, and an instrument is stored whole, so
  // that each change must stand on the one before.
  const show = (change: (now: readonly Instrument[]) => readonly Instrument[]) => {
    void cache.cancelQueries({ queryKey: LISTED });
    cache.setQueryData<readonly Instrument[]>(LISTED, (now = []) => change(now));
  };
  const save = (instrument: Instrument) => {
    show((now) =>
      now.some((i) => i.id === instrument.id)
        ? now.map((i) => (i.id === instrument.id ? instrument : i))
        : [...now, instrument],
    );
    void runQueued(() => putInstrument(instrument), instrument.id);
  };
  const change = (id: string, part: Partial<Instrument>) => {
    const now = cache.getQueryData<readonly Instrument[]>(LISTED)?.find((i) => i.id === id);
    if (now) save({ ...now, ...part });
  };
  const remove = async (instrument: Instrument) => {
    show((now) => now.filter((i) => i.id !== instrument.id));
    if (!(await runQueued(() => removeInstrument(instrument.id), instrument.id))) return;
    notify({
      title: `${instrument.label} was removed from the list`,
      tone: "plain",
      action: { label: "Put it back", run: () => save(instrument) },
    });
  };
  return (
    <section
      aria-label="Instruments"
      className="rounded-xl border border-line bg-panel p-4"
      data-testid="instruments"
    >
      <h2 className="flex items-center gap-1 text-lg font-semibold">
        Your instruments
        <Help about="what instruments are for">
          <p>
            Every instrument has its own error. Give what its maker states, and readings with it
            count for as much as they are worth. Without one, a common instrument is taken.
          </p>
        </Help>
      </h2>
      <ul className="divide-y divide-line">
        {instruments.map((i) => {
          const [dimension, usual, most] = STATED[i.kind];
          return (
            <li key={i.id} className="flex flex-wrap items-end gap-3 py-2">
              <div className="min-w-40 flex-1">
                <TextField
                  label={i.kind}
                  value={i.label}
                  most={60}
                  onCommit={(label) => change(i.id, { label })}
                />
              </div>
              <NumberField
                label="± as stated"
                value={i.accuracy ?? usual}
                dimension={dimension}
                min={dimension === "share" ? 0.01 : 0.05}
                max={most}
                onCommit={(accuracy) => change(i.id, { accuracy })}
              />
              <label className="text-sm text-soft">
                Checked on
                <input
                  type="date"
                  defaultValue={i.calibrated ?? ""}
                  onBlur={(e) => {
                    const calibrated = e.target.value || null;
                    if (calibrated !== (i.calibrated ?? null)) change(i.id, { calibrated });
                  }}
                  className="block h-9 rounded-md border border-edge bg-raised px-2 text-ink"
                />
              </label>
              <IconButton label={`Take ${i.label} off the list`} onClick={() => void remove(i)}>
                <Trash2 size={16} aria-hidden />
              </IconButton>
            </li>
          );
        })}
      </ul>
      <div className="mt-2 flex flex-wrap items-end gap-2">
        <SelectField
          label="Another one"
          value={kind}
          onChange={(k) => setKind(k as Instrument["kind"])}
          options={KINDS.map((k) => ({ value: k, label: k }))}
        />
        <Button
          onClick={() =>
            save({
              id: freshId(),
              label: `My ${kind}`,
              kind,
              accuracy: STATED[kind][1],
              calibrated: null,
            })
          }
        >
          Add it
        </Button>
      </div>
    </section>
  );
}
