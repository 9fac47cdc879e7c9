import { type UseQueryResult, useQuery, useQueryClient } from "@tanstack/react-query";
import clsx from "clsx";
import { describeMeasured, fitReadings } from "../../api/readings";
import type { Catalog, Measured, ReadingFit, StoredReading } from "../../api/types";
import { describe } from "../../app/notices";
import { KIND, valueText } from "../../domain/readings/kinds";
import { fixed } from "../../domain/units/units";
import { Button } from "../../ui/Button";
import { Help } from "../../ui/Help";
import { usePreferences } from "../../ui/preferences";
import { Phrase } from "../plan/Phrase";
import type { PlanEditor } from "../plan/usePlanEditor";
import { WhereMap } from "./WhereMap";

interface FitPanelProps {
  planId: string;
  editor: PlanEditor;
  catalog: Catalog;
  readings: readonly StoredReading[];
  /** Changes with the readings: a fit is of those it was made of. */
  version: string;
}

type Found =
  | { kind: "none" }
  | { kind: "looking" }
  | { kind: "failed"; error: unknown }
  | { kind: "found"; fit: ReadingFit };

function stateOf({ isFetching, error, data }: UseQueryResult<ReadingFit>): Found {
  if (isFetching) return { kind: "looking" };
  if (error) return { kind: "failed", error };
  return data ? { kind: "found", fit: data } : { kind: "none" };
}

/** The fit of the plan to the readings: what it finds, and applying it. */
export function FitPanel({ planId, editor, catalog, readings, version }: FitPanelProps) {
  const client = useQueryClient();
  const { document } = editor;
  const measured = document.measured ?? null;
  const usable = readings.filter((r) => !r.due && !r.reading.excluded);
  const used = usable.map((r) => `${r.reading.id}=${r.reading.value}`).join();
  // Computed when it is asked for; other readings make another fit.
  const queryKey = ["fit", planId, version, used];
  const fitting = useQuery({
    queryKey,
    queryFn: ({ signal }) => fitReadings(planId, document, signal),
    enabled: false,
    retry: false,
    gcTime: 0,
  });
  const found = stateOf(fitting);
  const put = (next: Measured | null, what: string) =>
    editor.commit({ ...document, measured: next }, what);
  return (
    <section
      aria-label="Fit the plan to the readings"
      className="h-fit rounded-xl border border-line bg-panel"
      data-testid="fit"
    >
      <div className="px-4 pt-3 pb-1">
        <h2 className="text-lg font-semibold">Fit the plan to the readings</h2>
        <p className="text-sm text-soft">
          The fit adjusts a few figures of the plan (lamps, mesh, walls, air, room), only as far as
          the readings require.
        </p>
      </div>
      {measured && <StoredFit measured={measured} editor={editor} onPut={put} />}
      <div className="flex flex-wrap items-center gap-2 px-4 py-2">
        <Button
          tone={found.kind === "found" ? "plain" : "strong"}
          disabled={usable.length === 0 || found.kind === "looking"}
          onClick={() => void fitting.refetch()}
        >
          {found.kind === "looking"
            ? "Fitting…"
            : `Fit the plan to ${usable.length} ${usable.length === 1 ? "reading" : "readings"}`}
        </Button>
        {found.kind === "looking" && (
          <>
            <progress aria-label="Fitting" className="h-2 w-24" />
            <Button size="small" onClick={() => void client.cancelQueries({ queryKey })}>
              Stop
            </Button>
          </>
        )}
        {usable.length === 0 && (
          <p className="text-sm text-soft">
            No valid reading: none was taken since the enclosure was last changed.
          </p>
        )}
      </div>
      {found.kind === "failed" && (
        <p role="alert" className="px-4 pb-3 text-high">
          {describe(found.error).title}: {describe(found.error).detail}
        </p>
      )}
      {found.kind === "found" && (
        <Result
          fit={found.fit}
          readings={readings}
          catalog={catalog}
          document={document}
          applied={same(measured, found.fit.measured)}
          onApply={() => put({ ...found.fit.measured, applied: true }, "Applied the readings")}
          onSave={() =>
            put({ ...found.fit.measured, applied: false }, "Saved a fit without applying it")
          }
        />
      )}
    </section>
  );
}

const same = (a: Measured | null, b: Measured) =>
  a !== null && JSON.stringify(a.values) === JSON.stringify(b.values);

interface StoredFitProps {
  measured: Measured;
  editor: PlanEditor;
  onPut: (next: Measured | null, what: string) => void;
}

/** The stored fit of the plan: whether it is applied, and which values are out of date. */
function StoredFit({ measured, editor, onPut }: StoredFitProps) {
  const description = useQuery({
    queryKey: ["measured", JSON.stringify(editor.document)],
    queryFn: () => describeMeasured(editor.document),
    staleTime: Infinity,
    placeholderData: (before) => before,
  });
  const applied = measured.applied ?? true;
  return (
    <div
      className={clsx(
        "mx-4 my-2 rounded-lg border p-3 text-sm",
        applied ? "border-fit bg-fit-wash" : "border-edge",
      )}
      data-testid="stored-fit"
      data-applied={applied}
    >
      <p className="font-semibold">
        {applied
          ? `● The plan is as measured on ${measured.on}`
          : `○ A fit of ${measured.on} is stored but not applied`}
      </p>
      <ul className="mt-1 list-disc pl-5">
        {description.data?.description.map((phrase) => (
          <li key={JSON.stringify(phrase)}>
            <Phrase parts={phrase} />
          </li>
        ))}
      </ul>
      {(description.data?.stale.length ?? 0) > 0 && (
        <div className="mt-1 text-high">
          <p className="font-semibold">No longer holds; read it again:</p>
          <ul className="list-disc pl-5">
            {description.data?.stale.map((l) => (
              <li key={l.id}>{l.why}</li>
            ))}
          </ul>
        </div>
      )}
      <div className="mt-2 flex flex-wrap gap-2">
        {applied ? (
          <Button
            size="small"
            onClick={() => onPut({ ...measured, applied: false }, "Fit no longer used")}
          >
            Use the catalogue’s values
          </Button>
        ) : (
          <Button
            size="small"
            tone="strong"
            onClick={() => onPut({ ...measured, applied: true }, "Applied the readings")}
          >
            Use what was measured
          </Button>
        )}
        <Button size="small" onClick={() => onPut(null, "Removed the fit")}>
          Remove the fit
        </Button>
      </div>
    </div>
  );
}

interface ResultProps {
  fit: ReadingFit;
  readings: readonly StoredReading[];
  catalog: Catalog;
  document: PlanEditor["document"];
  applied: boolean;
  onApply: () => void;
  onSave: () => void;
}

function Result({ fit, readings, catalog, document, applied, onApply, onSave }: ResultProps) {
  const { units } = usePreferences();
  const moved = fit.multipliers.filter((m) => m.settled);
  const open = fit.multipliers.filter((m) => !m.settled);
  const strays = fit.residuals.filter((r) => r.stray);
  const named = new Map(readings.map((r) => [r.reading.id, r.reading]));
  const biases = fit.biases.filter((b) => b.description.length > 0);
  return (
    <div className="space-y-3 px-4 pb-4 text-sm" data-testid="fit-result">
      <p
        className={clsx(
          "border-l-4 px-3 py-2",
          fit.poor ? "border-high bg-high-wash" : "border-fit bg-fit-wash",
        )}
        role="status"
      >
        {fit.poor ? (
          <>
            <strong>Plan and readings do not agree well</strong>, even after the fit (
            {fixed(fit.misfit, 1)} times as far apart as the instruments explain). Look at what
            stands out before you apply it.
          </>
        ) : (
          <>
            <strong>Plan and readings agree</strong> after the fit, within what the instruments and
            the model allow.
          </>
        )}
      </p>
      <div>
        <h3 className="font-semibold">What the readings show</h3>
        {moved.length === 0 && (
          <p className="text-soft">These readings settle nothing yet; more are needed.</p>
        )}
        <ul className="mt-1 space-y-1">
          {moved.map((m) => (
            <li key={m.id} data-testid={`fitted-${m.id}`}>
              <Phrase parts={m.description} />
              <Spread sigma={m.sigma_after} additive={m.additive} />
            </li>
          ))}
          {biases.map((b) => (
            <li key={b.instrument} className="text-soft">
              <Phrase parts={b.description} />
            </li>
          ))}
        </ul>
      </div>
      {strays.length > 0 && (
        <div className="rounded-lg border border-high p-2" data-testid="strays">
          <h3 className="font-semibold text-high">Unusual readings</h3>
          <ul>
            {strays.map((r) => {
              const reading = named.get(r.id);
              return (
                <li key={r.id}>
                  {reading && (
                    <strong>
                      {reading.place}, {KIND[reading.kind].toLowerCase()},{" "}
                      {valueText(reading.value, reading.kind, units)}:{" "}
                    </strong>
                  )}
                  <Phrase parts={r.cause} />
                </li>
              );
            })}
          </ul>
          <p className="mt-1 text-soft">
            The fit gives it no extra weight. Read it again, or untick it.
          </p>
        </div>
      )}
      <BeforeAfter fit={fit} named={named} />
      <div className="flex flex-wrap gap-2">
        <Button tone="strong" onClick={onApply} disabled={applied}>
          {applied ? "In the plan" : "Apply it to the plan"}
        </Button>
        {!applied && <Button onClick={onSave}>Save it without applying</Button>}
      </div>
      {open.length > 0 && (
        <p className="text-soft">
          <strong>Not settled by these readings</strong>: {open.map((m) => m.label).join(", ")}.
        </p>
      )}
      {fit.next.length > 0 && (
        <div>
          <h3 className="font-semibold">The reading that would help most now</h3>
          {fit.next.slice(0, 1).map((task) => (
            <div key={task.id} className="mt-1">
              <p>
                {KIND[task.kind]} at <strong>{task.place}</strong>. {task.why}
              </p>
              {task.at_m && <WhereMap document={document} catalog={catalog} at={task.at_m} />}
            </div>
          ))}
        </div>
      )}
    </div>
  );
}

/** How sure a fitted number is: the middle 80 % either way. */
function Spread({ sigma, additive }: { sigma: number; additive: boolean }) {
  const { units } = usePreferences();
  const half = 1.2816 * sigma;
  const text = additive
    ? `${fixed(half * (units === "metric" ? 1 : 1.8), 1)} ${units === "metric" ? "°C" : "°F"}`
    : `${fixed(100 * (Math.exp(half) - 1), 0)} %`;
  return <span className="whitespace-nowrap text-soft"> (± {text})</span>;
}

interface BeforeAfterProps {
  fit: ReadingFit;
  named: ReadonlyMap<string, StoredReading["reading"]>;
}

function BeforeAfter({ fit, named }: BeforeAfterProps) {
  const { units } = usePreferences();
  return (
    <details open>
      <summary className="font-semibold">Reading by reading</summary>
      <table className="mt-1 w-full">
        <thead className="text-left text-soft">
          <tr>
            <th className="font-normal">Where</th>
            <th className="pl-2 text-right font-normal">Read</th>
            <th className="pl-2 text-right font-normal">Before</th>
            <th className="pl-2 text-right font-normal">After</th>
            <th className="pl-2 text-right font-normal">
              <span className="inline-flex items-center">
                Off
                <Help about="how far off a reading is">
                  <p>
                    In standard deviations of the reading: 1 is usual, above 3 disagrees with what
                    the physics allows. “After” includes the instrument’s own error.
                  </p>
                </Help>
              </span>
            </th>
          </tr>
        </thead>
        <tbody>
          {fit.residuals.map((r) => {
            const reading = named.get(r.id);
            if (!reading) return null;
            const value = (v: number) => valueText(v, reading.kind, units);
            return (
              <tr key={r.id} className="border-t border-line">
                <th className="py-1 text-left font-normal">
                  {reading.place}
                  <span className="block text-xs text-soft">{KIND[reading.kind]}</span>
                </th>
                <td className="pl-2 text-right font-semibold whitespace-nowrap">
                  {value(reading.value)}
                </td>
                <td className="pl-2 text-right whitespace-nowrap">{value(r.before)}</td>
                <td className="pl-2 text-right whitespace-nowrap">{value(r.after)}</td>
                <td className={clsx("pl-2 text-right", r.stray && "font-semibold text-high")}>
                  {fixed(r.deviations, 1)}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </details>
  );
}
