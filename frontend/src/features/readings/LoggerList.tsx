import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Download, KeyRound, Trash2 } from "lucide-react";
import { useState } from "react";
import {
  fetchLoggers,
  newLoggerKey,
  putLogger,
  removeLogger,
  takeOutFile,
} from "../../api/loggers";
import type { LoggedDay, Logger, PlanDocument, Reading } from "../../api/types";
import { describe, useNotify } from "../../app/notices";
import { useAction } from "../../app/useAction";
import { useQueuedMutation } from "../../app/useQueuedMutation";
import { freshId, HERE, momentNow, valueText } from "../../domain/readings/kinds";
import { post } from "../../domain/readings/outbox";
import { Button, IconButton } from "../../ui/Button";
import { Panel } from "../../ui/Panel";
import { usePreferences } from "../../ui/preferences";
import { LoggerFile } from "./LoggerFile";
import { PlaceFields } from "./PlaceFields";

interface LoggerListProps {
  planId: string;
  revision: number;
  document: PlanDocument;
}

const DAYS_SHOWN = 7;

/** Loggers that stay in the enclosure: their files, their days, and devices that post by themselves. */
export function LoggerList({ planId, revision, document }: LoggerListProps) {
  const notify = useNotify();
  const cache = useQueryClient();
  const loggers = useQuery({
    queryKey: ["loggers", planId],
    queryFn: () => fetchLoggers(planId),
    staleTime: 0,
  });
  const again = () => cache.invalidateQueries({ queryKey: ["loggers", planId] });
  const runQueued = useQueuedMutation(["loggers"]);
  const remove = async (logger: Logger) => {
    const { id, label, place, at_m, zone } = logger;
    if (!(await runQueued(() => removeLogger(id)))) return;
    notify({
      title: `${label} was removed from the list`,
      detail: "Its records stay.",
      tone: "plain",
      action: {
        label: "Put it back",
        run: () => void runQueued(() => putLogger(planId, { id, label, place, at_m, zone })),
      },
    });
  };
  return (
    <section
      aria-label="Loggers"
      className="rounded-xl border border-line bg-panel p-4"
      data-testid="loggers"
    >
      <div className="flex flex-wrap items-center gap-3">
        <h2 className="flex-1 text-lg font-semibold">Loggers in the enclosure</h2>
        <AddLogger
          document={document}
          onAdd={(logger) => runQueued(() => putLogger(planId, { id: freshId(), ...logger }))}
        />
      </div>
      {loggers.error && (
        <p role="alert" className="text-high">
          {describe(loggers.error).title}: {describe(loggers.error).detail}
        </p>
      )}
      {loggers.data?.length === 0 && (
        <p className="text-sm text-soft">
          A logger records the lowest of the night and the highest of the day. Add one, then its
          file.
        </p>
      )}
      <ul className="divide-y divide-line">
        {loggers.data?.map((logger) => (
          <li key={logger.id} className="space-y-2 py-3">
            <div className="flex flex-wrap items-center gap-2">
              <div className="min-w-40 flex-1">
                <h3 className="font-semibold">{logger.label}</h3>
                <p className="text-sm text-soft">
                  {logger.place || "Its place"}; times in {logger.zone}
                  {logger.newest &&
                    `; last heard of ${logger.newest.slice(0, 16).replace("T", " ")}`}
                </p>
              </div>
              <LoggerFile logger={logger} onDone={again} />
              <a
                href={`/api/loggers/${logger.id}/logged.csv`}
                aria-label={`What ${logger.label} recorded, as CSV`}
                className="inline-grid size-9 place-items-center rounded-md hover:bg-wash"
              >
                <Download size={16} aria-hidden />
              </a>
              <DeviceKey logger={logger} />
              <IconButton
                label={`Take ${logger.label} off the list`}
                onClick={() => void remove(logger)}
              >
                <Trash2 size={16} aria-hidden />
              </IconButton>
            </div>
            <Days logger={logger} planId={planId} revision={revision} />
            <Files
              logger={logger}
              onTakeOut={(id, name) =>
                void runQueued(() => takeOutFile(id)).then(
                  (done) =>
                    done &&
                    notify({
                      title: `${name} was taken out`,
                      detail: "With the rows it brought. Import it again to have them back.",
                      tone: "plain",
                    }),
                )
              }
            />
          </li>
        ))}
      </ul>
    </section>
  );
}

interface AddLoggerProps {
  document: PlanDocument;
  onAdd: (logger: {
    label: string;
    place: string;
    at_m: NonNullable<Reading["at_m"]>;
    zone: string;
  }) => Promise<boolean>;
}

function AddLogger({ document, onAdd }: AddLoggerProps) {
  const { enclosure, substrate } = document;
  const [open, setOpen] = useState(false);
  const [label, setLabel] = useState("Logger");
  const [place, setPlace] = useState("");
  const [at, setAt] = useState({
    x_m: enclosure.length_m * 0.85,
    y_m: enclosure.depth_m / 2,
    z_m: Math.min(substrate.depth_m + 0.1, enclosure.height_m),
  });
  return (
    <>
      <Button size="small" onClick={() => setOpen(true)}>
        Add a logger
      </Button>
      <Panel
        open={open}
        onOpenChange={setOpen}
        title="A logger in the enclosure"
        description="Out of the beam and away from water, so that it reads air and not lamp."
      >
        <div className="space-y-3">
          <label className="block text-sm text-soft">
            Name
            <input
              value={label}
              maxLength={60}
              onChange={(e) => setLabel(e.target.value)}
              className="h-9 w-full rounded-md border border-edge bg-raised px-2 text-ink"
            />
          </label>
          <PlaceFields document={document} place={place} at={at} onPlace={setPlace} onAt={setAt} />
          <div className="flex justify-end">
            <Button
              tone="strong"
              disabled={label.trim() === ""}
              onClick={async () => {
                const done = await onAdd({ label: label.trim(), place, at_m: at, zone: HERE });
                if (done) setOpen(false);
              }}
            >
              Add it
            </Button>
          </div>
        </div>
      </Panel>
    </>
  );
}

/** A key for a device, shown once, with how it is used. */
function DeviceKey({ logger }: { logger: Logger }) {
  const [key, setKey] = useState<string | null>(null);
  const make = useAction(() => newLoggerKey(logger.id), setKey);
  const example = `curl -X POST ${window.location.origin}/api/devices/readings \\
  -H "Authorization: Bearer ${key}" -H "Content-Type: application/json" \\
  -d '{"readings": [{"at": "${new Date().toISOString().slice(0, 19)}Z",
       "temperature_c": 24.5, "humidity_percent": 48}]}'`;
  return (
    <>
      <IconButton
        label={`Key for a device that posts for ${logger.label}`}
        onClick={() => make.mutate()}
      >
        <KeyRound size={16} aria-hidden />
      </IconButton>
      <Panel
        open={key !== null}
        onOpenChange={(open) => !open && setKey(null)}
        title={`Key of ${logger.label}`}
        description="Shown this once. A key made before is void now."
      >
        <p className="font-mono break-all select-all" data-testid="device-key">
          {key}
        </p>
        <p className="mt-3 text-sm text-soft">
          A logger on the network or a home-automation script posts its readings like this; one that
          is sent twice is stored once. The same goes as CSV to <code>readings.csv</code>.
        </p>
        <pre className="mt-2 overflow-x-auto rounded-md bg-wash p-2 text-xs">{example}</pre>
      </Panel>
    </>
  );
}

interface DaysProps {
  logger: Logger;
  planId: string;
  revision: number;
}

/** The last days, and those of them that can be used as readings. */
function Days({ logger, planId, revision }: DaysProps) {
  const { units } = usePreferences();
  const notify = useNotify();
  if (logger.days.length === 0) return null;
  const heat = (v: number | null) => (v === null ? "–" : valueText(v, "air", units));
  const damp = (v: number | null) => (v === null ? "–" : valueText(v, "humidity", units));
  const use = (day: LoggedDay) => {
    const readings = readingsOf(logger, day, revision);
    for (const reading of readings) post(planId, reading);
    notify({
      title: `${readings.length} readings of ${day.day} are used`,
      detail: "The lowest of the night, air and humidity of the warm hours.",
      tone: "plain",
    });
  };
  return (
    <div className="overflow-x-auto">
      <table className="w-full text-sm">
        <thead className="text-left text-soft">
          <tr>
            <th className="font-normal">Day</th>
            <th className="pl-2 text-right font-normal">Lowest</th>
            <th className="pl-2 text-right font-normal">Highest</th>
            <th className="pl-2 text-right font-normal">11 to 16 h</th>
            <th className="pl-2 text-right font-normal">Humidity</th>
            <th className="pl-2 text-right font-normal">Use</th>
          </tr>
        </thead>
        <tbody>
          {logger.days.slice(0, DAYS_SHOWN).map((day) => (
            <tr key={day.day} className="border-t border-line">
              <th className="py-1 text-left font-normal whitespace-nowrap">
                {day.day}
                {!day.whole && <span className="block text-xs text-soft">not whole</span>}
              </th>
              <td className="pl-2 text-right whitespace-nowrap">{heat(day.lowest_c)}</td>
              <td className="pl-2 text-right whitespace-nowrap">{heat(day.highest_c)}</td>
              <td className="pl-2 text-right font-semibold whitespace-nowrap">
                {heat(day.warm_c)}
              </td>
              <td className="pl-2 text-right whitespace-nowrap">
                {damp(day.lowest_humidity)} to {damp(day.highest_humidity)}
              </td>
              <td className="pl-2 text-right">
                <Button
                  size="small"
                  disabled={!day.whole || day.warm_c === null}
                  aria-label={`Use ${day.day} of ${logger.label} as readings`}
                  onClick={() => use(day)}
                >
                  Use it
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** A day of a logger as readings; the ids are of the day, so that using it again stores nothing twice. */
function readingsOf(logger: Logger, day: LoggedDay, revision: number): Reading[] {
  const common = {
    round_id: null,
    task: null,
    revision,
    place: logger.place || logger.label,
    instrument_id: null,
    source: "logger" as const,
    note: `${logger.label}, ${day.day}`,
    excluded: false,
  };
  const at = (clock: string) => momentNow(new Date(`${day.day}T${clock}`));
  const [morning, noon] = [at("06:00"), at("13:30")];
  const id = (what: string) => `${logger.id}.${day.day}.${what}`.slice(0, 64);
  const found: Reading[] = [];
  if (day.lowest_c !== null) {
    const value = day.lowest_c;
    found.push({
      ...common,
      id: id("low"),
      kind: "air_min",
      value,
      at_m: logger.at_m,
      taken_at: morning,
    });
  }
  if (day.warm_c !== null) {
    const value = day.warm_c;
    found.push({
      ...common,
      id: id("warm"),
      kind: "air",
      value,
      at_m: logger.at_m,
      taken_at: noon,
    });
  }
  if (day.warm_humidity !== null) {
    const value = day.warm_humidity;
    found.push({
      ...common,
      id: id("damp"),
      kind: "humidity",
      value,
      at_m: logger.at_m,
      taken_at: noon,
    });
  }
  if (day.highest_humidity !== null) {
    const value = day.highest_humidity;
    found.push({
      ...common,
      id: id("dew"),
      kind: "humidity_night",
      value,
      at_m: logger.at_m,
      taken_at: morning,
    });
  }
  return found;
}

interface FilesProps {
  logger: Logger;
  onTakeOut: (id: string, name: string) => void;
}

function Files({ logger, onTakeOut }: FilesProps) {
  if (logger.imports.length === 0) return null;
  return (
    <details className="text-sm">
      <summary className="text-soft">
        {logger.imports.length} {logger.imports.length === 1 ? "file" : "files"} taken in
      </summary>
      <ul className="mt-1">
        {logger.imports.map((file) => (
          <li key={file.id} className="flex flex-wrap items-center gap-2">
            <span className="min-w-40 flex-1">
              {file.name}, {file.taken_at.slice(0, 10)}: {file.stored} rows
              {file.repeated > 0 && `, ${file.repeated} were there already`}
              {file.refused > 0 && `, ${file.refused} could not be read`}
            </span>
            <Button
              size="small"
              tone="quiet"
              aria-label={`Delete ${file.name}`}
              onClick={() => onTakeOut(file.id, file.name)}
            >
              Delete
            </Button>
          </li>
        ))}
      </ul>
    </details>
  );
}
