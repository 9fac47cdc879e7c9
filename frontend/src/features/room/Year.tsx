import type { Forecast } from "../../api/types";
import { MONTH_NAMES } from "../../domain/year/year";

/** An enclosure in each month of its room: what fits is round, what does not says how much fails. */
export function Year({ forecast }: { forecast: Forecast }) {
  const { months } = forecast;
  if (months.length === 0) {
    return <p className="text-sm text-soft">Over the year: set the climate of the room to know.</p>;
  }
  const bad = months.filter((m) => m.failing !== 0);
  const worst = bad.reduce<(typeof months)[number] | null>(
    (a, b) => (a === null || (b.failing ?? 99) > (a.failing ?? 99) ? b : a),
    null,
  );
  return (
    <div data-testid="year">
      <ol className="flex gap-px" aria-label="Check by month">
        {months.map((m) => {
          const fits = m.failing === 0;
          const name = MONTH_NAMES[m.number - 1] ?? "";
          const word = fits
            ? "nothing fails as computed"
            : m.failing === null
              ? "unknown"
              : `${m.failing} to change`;
          return (
            <li
              key={m.number}
              title={`${name}: ${word}`}
              className={`flex-1 rounded-sm text-center text-[11px] leading-tight ${
                fits ? "bg-fit-wash text-fit" : "bg-high-wash font-bold text-high"
              }`}
            >
              <span aria-hidden="true" className="block">
                {name.charAt(0)}
              </span>
              <span aria-hidden="true" className="block">
                {fits ? "●" : (m.failing ?? "?")}
              </span>
              <span className="sr-only">{`${name}: ${word}`}</span>
            </li>
          );
        })}
      </ol>
      <p className="mt-0.5 text-sm">
        {bad.length === 0 ? (
          <span className="text-fit">● nothing fails in any month, as computed</span>
        ) : (
          worst && (
            <span className="text-soft">
              To change in {bad.length === 12 ? "every month" : `${bad.length} of 12 months`}
              {bad.some((m) => m.failing !== worst.failing) &&
                `, most in ${MONTH_NAMES[worst.number - 1]}`}
            </span>
          )
        )}
      </p>
    </div>
  );
}

/** What is due on an enclosure, the most overdue first. */
export function DueList({ forecast }: { forecast: Forecast }) {
  const lamps = forecast.due.filter((d) => d.kind !== "measure");
  const measure = forecast.due.find((d) => d.kind === "measure");
  return (
    <ul className="mt-1 text-sm" aria-label="Due" data-testid="due">
      {lamps.map((d) => (
        <li
          key={d.about_id}
          className={d.kind === "replace_lamp" ? "font-semibold text-high" : "text-ink"}
        >
          <span aria-hidden="true">{d.kind === "replace_lamp" ? "! " : "· "}</span>
          {d.message}
        </li>
      ))}
      {lamps.length === 0 && measure && (
        <li className="text-soft">
          <span aria-hidden="true">· </span>
          {measure.message}
        </li>
      )}
    </ul>
  );
}
