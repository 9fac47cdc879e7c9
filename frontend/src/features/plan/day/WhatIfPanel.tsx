import type { FailureOutcome } from "../../../api/types";
import { fixed, show } from "../../../domain/units/units";
import { Button } from "../../../ui/Button";
import { usePreferences } from "../../../ui/preferences";
import { Trouble } from "./DayPanel";
import { duration } from "./series";
import { type DayState, useFailureScenarios } from "./useDay";

/** What-if tests, run one after another, the worst first. */
export function WhatIfPanel({ state }: { state: DayState }) {
  const failureScenarios = useFailureScenarios(state);
  const { outcomes, total, running } = failureScenarios;
  const sorted = [...outcomes].sort((a, b) => urgency(a) - urgency(b));
  return (
    <div className="px-3 pb-4" data-testid="what-if" data-running={running}>
      <div className="flex flex-wrap items-center gap-3">
        <p className="text-sm" role="status">
          {total === null
            ? failureScenarios.stopped
              ? "Stopped before the first test was run."
              : "Simulating the day first…"
            : running
              ? `${outcomes.length} of ${total} tests run…`
              : `${outcomes.length} of ${total} tests run, each over a day and a night.`}
        </p>
        {total !== null && (
          <progress
            className="h-2 w-40"
            aria-label="What-if tests run"
            value={outcomes.length}
            max={Math.max(1, total)}
          />
        )}
        {running ? (
          <Button size="small" onClick={failureScenarios.stop}>
            Stop
          </Button>
        ) : (
          (total !== null || failureScenarios.stopped) && (
            <Button size="small" onClick={failureScenarios.start}>
              Run them again
            </Button>
          )
        )}
      </div>
      {failureScenarios.error !== null && <Trouble error={failureScenarios.error} />}
      <ul className="mt-2 divide-y divide-line border-y border-line">
        {sorted.map((o) => (
          <Outcome key={o.id} outcome={o} />
        ))}
      </ul>
      <p className="mt-2 text-sm text-soft">
        Predictions, for the air an animal cannot leave. A heater must never be left without a
        working thermostat, and anything about mains belongs to a qualified electrician.
      </p>
    </div>
  );
}

const urgency = (o: FailureOutcome) =>
  o.always_somewhere ? (o.safe_place ? 1e6 : 1e5) : (o.minutes_to_danger ?? 0);

function Outcome({ outcome: o }: { outcome: FailureOutcome }) {
  const { units } = usePreferences();
  const t = (v: number) => show(v, "temperature", units, 0);
  const [mark, tone, words] = check(o);
  const hottest = o.places.reduce((a, b) => (b.highest_c > a.highest_c ? b : a));
  const coldest = o.places.reduce((a, b) => (b.lowest_c < a.lowest_c ? b : a));
  return (
    <li className="py-1.5">
      <details>
        <summary className="cursor-pointer text-sm">
          <span className={`font-semibold ${tone}`}>
            <span aria-hidden="true">{mark} </span>
            {o.label}
          </span>
          <span className="text-soft"> {o.by_night ? "from dusk" : "from dawn"}: </span>
          {words}
          <span className="text-soft">
            {" "}
            {t(coldest.lowest_c)} to {t(hottest.highest_c)}.
          </span>
        </summary>
        <table className="mt-1 mb-2 w-full max-w-xl text-sm">
          <thead>
            <tr className="text-left text-soft">
              <th className="font-normal">Place</th>
              <th className="text-right font-normal">coldest</th>
              <th className="text-right font-normal">warmest</th>
              <th className="text-right font-normal">highest UVI</th>
              <th className="pl-4 font-normal">dangerous</th>
            </tr>
          </thead>
          <tbody>
            {o.places.map((p) => (
              <tr key={p.id} className="border-t border-line">
                <td>{p.label}</td>
                <td className="text-right">{t(p.lowest_c)}</td>
                <td className="text-right">{t(p.highest_c)}</td>
                <td className="text-right">{fixed(p.uvi_highest, 1)}</td>
                <td className="pl-4">
                  {[
                    p.minutes_to_heat !== null && `too hot after ${duration(p.minutes_to_heat)}`,
                    p.minutes_to_cold !== null && `too cold after ${duration(p.minutes_to_cold)}`,
                  ]
                    .filter(Boolean)
                    .join(", ") || "never"}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </li>
  );
}

/** Places that do not stay safe, and how soon. */
export const unsafePlaces = (o: FailureOutcome): string[] =>
  o.places.flatMap((p) => [
    ...(p.minutes_to_heat === null
      ? []
      : [`${p.label} too hot after ${duration(p.minutes_to_heat)}`]),
    ...(p.minutes_to_cold === null
      ? []
      : [`${p.label} too cold after ${duration(p.minutes_to_cold)}`]),
  ]);

function check(o: FailureOutcome): [string, string, string] {
  if (!o.always_somewhere) {
    return ["▲", "text-high", `no safe place after ${duration(o.minutes_to_danger ?? 0)}.`];
  }
  const harmed = unsafePlaces(o);
  if (o.safe_place && harmed.length > 0) {
    return ["◆", "text-low", `not safe: ${harmed.join(", ")}. ${o.safe_place} stays safe.`];
  }
  if (o.safe_place) return ["✓", "text-fit", "every place stays safe."];
  return ["◆", "text-low", "some place is always safe, but it has to move."];
}
