import { useMutation } from "@tanstack/react-query";
import { useId, useMemo, useState } from "react";
import { previewFile, takeInFile } from "../../api/loggers";
import type { Logger, LoggerMapping, LoggerPreview } from "../../api/types";
import { useLatest } from "../../api/useLatest";
import { describe, useNotify } from "../../app/notices";
import { HERE, valueText } from "../../domain/readings/kinds";
import { Button } from "../../ui/Button";
import { CheckField } from "../../ui/CheckField";
import { FileButton } from "../../ui/FileButton";
import { Panel } from "../../ui/Panel";
import { usePreferences } from "../../ui/preferences";
import { SelectField } from "../../ui/SelectField";

interface LoggerFileProps {
  logger: Logger;
  onDone: () => Promise<unknown>;
}

interface Chosen {
  name: string;
  text: string;
}

/** A file of a logger: looked at, corrected where it was guessed wrong, and imported. */
export function LoggerFile({ logger, onDone }: LoggerFileProps) {
  const [file, setFile] = useState<Chosen | null>(null);
  return (
    <>
      <FileButton
        label={`File of ${logger.label}`}
        accept=".csv,.txt,.tsv,text/csv,text/plain"
        testId="logger-file-input"
        size="small"
        onFile={async (f) => setFile({ name: f.name, text: await f.text() })}
      >
        Add its file
      </FileButton>
      <Panel
        open={file !== null}
        onOpenChange={(open) => !open && setFile(null)}
        title={file?.name ?? ""}
        description={`How the file of ${logger.label} is read; it is remembered for the next one.`}
      >
        {file && (
          <Look
            key={file.name}
            logger={logger}
            file={file}
            onTaken={async () => {
              setFile(null);
              await onDone();
            }}
          />
        )}
      </Panel>
    </>
  );
}

interface LookProps {
  logger: Logger;
  file: Chosen;
  onTaken: () => Promise<void>;
}

function Look({ logger, file, onTaken }: LookProps) {
  const { units } = usePreferences();
  const notify = useNotify();
  const [mapping, setMapping] = useState<LoggerMapping | null>(null);
  const [whole, setWhole] = useState(false);
  const preview = useLatest(
    "logger-file",
    useMemo(() => ({ id: logger.id, text: file.text, mapping }), [logger.id, file.text, mapping]),
    (asked, signal) => previewFile(asked.id, asked.text, HERE, asked.mapping, signal),
  );
  const seen = preview.result;
  const take = useMutation({
    mutationFn: (mapping: LoggerMapping) =>
      takeInFile(logger.id, { name: file.name.slice(0, 200), text: file.text, mapping, whole }),
    onSuccess: async ({ taken }) => {
      notify({
        title: `${taken.stored} rows of ${file.name} taken in`,
        detail: [
          taken.repeated > 0 && `${taken.repeated} were there already`,
          taken.refused > 0 && `${taken.refused} could not be read`,
        ]
          .filter(Boolean)
          .join("; "),
        tone: "plain",
      });
      await onTaken();
    },
  });
  const error = take.error ?? preview.error;
  if (!seen) {
    return error ? (
      <p role="alert" className="text-high">
        {describe(error).title}: {describe(error).detail}
      </p>
    ) : (
      <p className="text-soft">Looking at the file…</p>
    );
  }
  const change = (next: Partial<LoggerMapping>) => setMapping({ ...seen.mapping, ...next });
  const fresh = seen.row_count - seen.known;
  return (
    <div className="space-y-3 text-sm" data-testid="logger-file">
      {error !== null && (
        <p role="alert" className="text-high">
          {describe(error).title}: {describe(error).detail}
        </p>
      )}
      <p role="status">
        <strong>{seen.row_count} rows can be read</strong>
        {seen.known > 0 && `, ${seen.known} of them are stored already`}
        {seen.refused_count > 0 && <span className="text-high">, {seen.refused_count} cannot</span>}
        {seen.skipped > 0 && `; ${seen.skipped} lines are titles or empty`}.{" "}
        {seen.remembered && "Read as the last file of this logger."}
      </p>
      {seen.doubts.map((doubt) => (
        <p key={doubt} className="border-l-4 border-high bg-high-wash px-3 py-1.5">
          {doubt}
        </p>
      ))}
      <MappingFields seen={seen} onChange={change} />
      <div className="overflow-x-auto">
        <table className="w-full">
          <thead className="text-left text-soft">
            <tr>
              <th className="font-normal">Line</th>
              <th className="pl-2 font-normal">Time</th>
              <th className="pl-2 text-right font-normal">Temperature</th>
              <th className="pl-2 text-right font-normal">Humidity</th>
            </tr>
          </thead>
          <tbody>
            {seen.rows.slice(0, 6).map((row) => (
              <tr key={row.line} className="border-t border-line">
                <td>{row.line}</td>
                <td className="pl-2 whitespace-nowrap">
                  {new Date(row.at).toLocaleString([], { timeZone: seen.mapping.zone })}
                </td>
                <td className="pl-2 text-right whitespace-nowrap">
                  {row.temperature_c === null ? "–" : valueText(row.temperature_c, "air", units)}
                </td>
                <td className="pl-2 text-right whitespace-nowrap">
                  {row.relative_humidity === null
                    ? "–"
                    : valueText(row.relative_humidity, "humidity", units)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {seen.gap_count > 0 && (
        <p className="text-soft">
          {seen.gap_count} {seen.gap_count === 1 ? "gap" : "gaps"}, the longest from{" "}
          {seen.gaps[0] && new Date(seen.gaps[0].begin).toLocaleString()} to{" "}
          {seen.gaps[0] && new Date(seen.gaps[0].end).toLocaleString()}.
        </p>
      )}
      {seen.refused.length > 0 && (
        <details open>
          <summary className="font-semibold text-high">Rows that cannot be read</summary>
          <ul className="mt-1 list-disc pl-5">
            {seen.refused.map((row) => (
              <li key={row.line}>
                Line {row.line}: {row.reason}
              </li>
            ))}
          </ul>
          <CheckField
            label="Import nothing if a row cannot be read"
            checked={whole}
            onChange={setWhole}
          />
        </details>
      )}
      <div className="flex justify-end">
        <Button
          tone="strong"
          disabled={take.isPending || seen.row_count === 0}
          onClick={() => take.mutate(seen.mapping)}
        >
          {take.isPending
            ? "Importing…"
            : fresh === 0
              ? "Nothing new in it"
              : `Take in ${fresh} rows`}
        </Button>
      </div>
    </div>
  );
}

const DELIMITERS = [
  { value: ",", label: "comma" },
  { value: ";", label: "semicolon" },
  { value: "\t", label: "tab" },
  { value: "|", label: "upright stroke" },
];
const ORDERS = [
  { value: "ymd", label: "year, month, day" },
  { value: "dmy", label: "day, month, year" },
  { value: "mdy", label: "month, day, year" },
];

interface MappingFieldsProps {
  seen: LoggerPreview;
  onChange: (next: Partial<LoggerMapping>) => void;
}

function MappingFields({ seen, onChange }: MappingFieldsProps) {
  const { mapping } = seen;
  const zones = useId();
  const columns = seen.titles.map((title, i) => ({
    value: String(i),
    label: title || `Column ${i + 1}`,
  }));
  const orNone = [{ value: "", label: "none" }, ...columns];
  const column = (value: string) => (value === "" ? null : Number(value));
  return (
    <div className="grid grid-cols-2 gap-x-3 gap-y-2 sm:grid-cols-3">
      <SelectField
        label="Columns are parted by"
        value={mapping.delimiter}
        onChange={(delimiter) => onChange({ delimiter })}
        options={DELIMITERS}
      />
      <SelectField
        label="Decimals after"
        value={mapping.decimal}
        onChange={(d) => onChange({ decimal: d === "," ? "," : "." })}
        options={[
          { value: ".", label: "a point" },
          { value: ",", label: "a comma" },
        ]}
      />
      <SelectField
        label="Dates are written"
        value={mapping.order}
        onChange={(order) => onChange({ order: order as LoggerMapping["order"] })}
        options={ORDERS}
      />
      <SelectField
        label="Date"
        value={String(mapping.time)}
        onChange={(time) => onChange({ time: Number(time) })}
        options={columns}
      />
      <SelectField
        label="Time of day, if apart"
        value={mapping.clock === null ? "" : String(mapping.clock)}
        onChange={(clock) => onChange({ clock: column(clock) })}
        options={orNone}
      />
      <div>
        <label htmlFor={zones} className="text-sm text-soft">
          Time zone
        </label>
        <input
          id={zones}
          list={`${zones}-all`}
          key={mapping.zone}
          defaultValue={mapping.zone}
          onBlur={(e) => {
            const zone = e.target.value.trim();
            if (zone && zone !== mapping.zone) onChange({ zone });
          }}
          className="h-9 w-full rounded-md border border-edge bg-raised px-2 font-medium"
        />
        <datalist id={`${zones}-all`}>
          {Intl.supportedValuesOf("timeZone").map((zone) => (
            <option key={zone} value={zone} />
          ))}
        </datalist>
      </div>
      <SelectField
        label="Temperature"
        value={mapping.temperature === null ? "" : String(mapping.temperature)}
        onChange={(t) => onChange({ temperature: column(t) })}
        options={orNone}
      />
      <SelectField
        label="It is in"
        value={mapping.unit}
        onChange={(unit) => onChange({ unit: unit === "F" ? "F" : "C" })}
        options={[
          { value: "C", label: "°C" },
          { value: "F", label: "°F" },
        ]}
      />
      <SelectField
        label="Humidity"
        value={mapping.humidity === null ? "" : String(mapping.humidity)}
        onChange={(h) => onChange({ humidity: column(h) })}
        options={orNone}
      />
    </div>
  );
}
