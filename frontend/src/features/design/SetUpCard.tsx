import type { Catalog, SetUp } from "../../api/types";
import { Thumbnail } from "../../canvas/Thumbnail";
import { fixturesOf, thermostatsOf } from "../../domain/plan/document";
import { seasonName, seasonsOf } from "../../domain/plan/seasons";
import { isUnsure } from "../../domain/plan/setUp";
import { fails, figureBesideLimits, quantityWords, rangeText } from "../../domain/units/needs";
import { show, showSizes } from "../../domain/units/units";
import { MONTH_NAMES } from "../../domain/year/year";
import { Button } from "../../ui/Button";
import { usePreferences } from "../../ui/preferences";
import { STATUS_INK, STATUS_MARK, STATUS_WORD } from "../../ui/status";
import { Phrase } from "../plan/Phrase";

interface SetUpCardProps {
  setUp: SetUp;
  first: boolean;
  catalog: Catalog | null;
  busy: boolean;
  onTake: () => void;
}

const LABEL: Record<SetUp["label"], string> = {
  steadiest: "Steadiest",
  "cheapest to run": "Cheapest to run",
  "cheapest to buy": "Cheapest to buy",
  "another way": "Another way",
  "from what you own": "From what you own",
};

function stateWords(setUp: SetUp, met: number, required: number): string {
  if (setUp.fits) return `● All ${met} required checks are in range`;
  if (isUnsure(setUp)) {
    return `◇ All ${required} required checks are in range, ${required - met} of them uncertain`;
  }
  return `▲▼ ${met} of ${required} required checks are in range`;
}

/** One set-up: its picture, what it needs, its checks, how it fares by month, what it takes to run. */
export function SetUpCard({ setUp, first, catalog, busy, onTake }: SetUpCardProps) {
  const { units } = usePreferences();
  const d = setUp.plan;
  const required = setUp.checks.filter((c) => c.required);
  const faults = setUp.findings.filter((f) => fails(f.severity));
  const met = required.filter((c) => c.status === "ok");
  return (
    <li
      className="flex flex-col overflow-hidden rounded-xl border border-line bg-panel"
      data-testid="set-up"
    >
      <Thumbnail document={d} catalog={catalog} />
      <div className="flex flex-1 flex-col gap-2 p-4">
        <h3 className="text-lg leading-tight font-semibold">{LABEL[setUp.label]}</h3>
        <p
          className={`font-semibold ${setUp.fits ? "text-fit" : isUnsure(setUp) ? "text-ink" : "text-high"}`}
        >
          {stateWords(setUp, met.length, required.length)}
        </p>
        {faults.map((f) => (
          <p key={f.id} className="text-sm text-high">
            <Phrase parts={f.message} />
          </p>
        ))}
        <p className="text-sm text-soft">{showSizes(d.enclosure, units)}</p>
        {setUp.why.map((sentence, i) => (
          <p key={i === 0 ? "warmth" : "air"} className="text-sm">
            <Phrase parts={sentence} />
          </p>
        ))}
        <ul className="text-sm" aria-label="Lamps, heaters and thermostats">
          {fixturesOf(d).map((f) => (
            <li key={f.id} className="flex justify-between gap-3 border-b border-line/60 py-0.5">
              <span className="min-w-0">
                {catalog?.lamps.find((l) => l.id === f.lamp_id)?.label}
              </span>
              <span className="whitespace-nowrap">{f.power_w} W</span>
            </li>
          ))}
          {thermostatsOf(d).map((t) => (
            <li key={t.id} className="flex justify-between gap-3 border-b border-line/60 py-0.5">
              <span className="min-w-0">{t.label}</span>
              <span className="whitespace-nowrap">
                {dial(t.day_set_point_c ?? null, units)} day,{" "}
                {dial(t.night_set_point_c ?? null, units)} night
              </span>
            </li>
          ))}
        </ul>
        <p className="text-sm">
          <b>{setUp.kwh_month.toFixed(0)} kWh</b> a month, about {setUp.cost_month.toFixed(2)} at{" "}
          {d.room.tariff_per_kwh} a kWh
        </p>
        <p className={`text-sm ${setUp.over_budget ? "font-semibold text-high" : ""}`}>
          {setUp.price > 0
            ? `Lamps, heaters and thermostats to buy: about ${setUp.price.toFixed(0)} (estimate)${
                setUp.over_budget ? ", above your budget" : ""
              }`
            : "Nothing to buy of lamps, heaters and thermostats"}
        </p>
        {setUp.months.length > 0 && <Months setUp={setUp} />}
        {setUp.what_if.length > 0 && (
          <ul className="text-sm" aria-label="If something goes wrong">
            {setUp.what_if.map((w) => (
              <li key={w.id} className={w.safe ? "text-soft" : "text-high"}>
                {w.safe ? "● " : "▲ "}
                {w.label}: the coolest place ({w.place_label}) comes to{" "}
                {show(w.coolest_c, "temperature", units)},{" "}
                {w.safe ? "safe up to " : "safe only up to "}
                {show(w.highest_safe_c, "temperature", units, 0)}
              </li>
            ))}
          </ul>
        )}
        <details className="text-sm">
          <summary className="cursor-pointer py-1 font-medium">
            All {setUp.checks.length} checks, with their chance
          </summary>
          <table className="mt-1 w-full">
            <tbody>
              {setUp.checks.map((c) => {
                return (
                  <tr key={c.id} className="border-t border-line/60 align-top">
                    <td className={`pr-1 ${STATUS_INK[c.status]}`}>
                      <span aria-hidden="true">{STATUS_MARK[c.status]}</span>
                      <span className="sr-only">{STATUS_WORD[c.status]}</span>
                    </td>
                    <td className="pr-2">
                      {c.place_label}, {quantityWords(c.need.place, c.need.quantity)}
                    </td>
                    <td className="pr-2 text-right whitespace-nowrap">
                      {c.value === null
                        ? "–"
                        : figureBesideLimits(c.value, c.need, c.status, units)}
                      <span className="block text-soft">{rangeText(c.need, units)}</span>
                    </td>
                    <td className="text-right whitespace-nowrap">
                      {c.chance === null ? "" : `${Math.round(100 * c.chance)} %`}
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        </details>
        <div className="mt-auto pt-2">
          <Button
            tone={first ? "strong" : "plain"}
            className="w-full"
            disabled={busy}
            onClick={onTake}
          >
            {busy ? "Storing…" : "Use this set-up"}
          </Button>
        </div>
      </div>
    </li>
  );
}

function dial(point: number | null, units: Parameters<typeof show>[2]): string {
  return point === null ? "off" : show(point, "temperature", units);
}

/** How a set-up fares in each month of the room, and what is set differently then. */
function Months({ setUp }: { setUp: SetUp }) {
  const { units } = usePreferences();
  const bad = setUp.months.filter((m) => !m.fits);
  const seasons = seasonsOf(setUp.changes_by_month, units);
  return (
    <div>
      <ol className="flex gap-px" aria-label="Checks by month">
        {setUp.months.map((m) => {
          const name = MONTH_NAMES[m.number - 1] ?? "";
          const word = m.fits ? "in range" : m.failing === 0 ? "uncertain" : m.cause || "fails";
          return (
            <li
              key={m.number}
              title={`${name}: ${word}`}
              className={`flex-1 rounded-sm text-center text-[11px] leading-tight ${
                m.fits ? "bg-fit-wash text-fit" : "bg-high-wash font-bold text-high"
              }`}
            >
              <span aria-hidden="true" className="block">
                {name.charAt(0)}
              </span>
              <span aria-hidden="true" className="block">
                {m.fits ? "●" : m.failing === 0 ? "◇" : m.failing}
              </span>
              <span className="sr-only">{`${name}: ${word}`}</span>
            </li>
          );
        })}
      </ol>
      <p className="mt-1 text-sm text-soft">
        {bad.length === 0
          ? "In range in every month of your room, as computed."
          : `Out of range in ${bad.map((m) => `${MONTH_NAMES[m.number - 1]} (${m.cause || "uncertain"})`).join(", ")}.`}
      </p>
      {seasons.length > 0 && (
        <dl className="mt-1 text-sm" data-testid="seasons">
          {seasons.map((one) => (
            <div key={one.months.join()} className="mt-1">
              <dt className="font-medium">{seasonName(one.months)}</dt>
              {one.said.map((words) => (
                <dd key={words} className="pl-3">
                  {words}
                </dd>
              ))}
            </div>
          ))}
        </dl>
      )}
    </div>
  );
}
