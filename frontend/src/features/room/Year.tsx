import type { Forecast } from "../../api/types";
import { MONTH_NAMES } from "../../domain/year/year";

type Month = Forecast["months"][number];

/** This month and the next one in which more fails, of a year that begins with this month. */
export function monthsAhead(
  months: readonly Month[],
  now: number,
): { present: Month | undefined; hard: Month | undefined } {
  const ahead = [...months].sort(
    (a, b) => ((a.number - now + 12) % 12) - ((b.number - now + 12) % 12),
  );
  const [present, ...later] = ahead;
  const weight = (month: Month | undefined) => month?.failing ?? 99;
  return { present, hard: later.find((m) => weight(m) > weight(present)) };
}

/** An enclosure this month, and in the next that is harder. */
export function Months({ forecast }: { forecast: Forecast }) {
  const { months } = forecast;
  if (months.length === 0) {
    return (
      <span className="block text-soft" data-testid="year">
        Over the year: set the climate of the room to know.
      </span>
    );
  }
  const { present, hard } = monthsAhead(months, new Date().getMonth() + 1);
  const worse = months.some((m) => m.failing !== 0);
  return (
    <span className="mt-0.5 flex flex-wrap items-center gap-1" data-testid="year">
      {present && <MonthMark month={present} />}
      {hard ? (
        <>
          <span className="text-soft">next hard month</span> <MonthMark month={hard} />
        </>
      ) : (
        <span className={worse ? "text-soft" : "text-fit"}>
          {worse ? "no month harder" : "and in every month, as computed"}
        </span>
      )}
    </span>
  );
}

function MonthMark({ month }: { month: Month }) {
  const name = MONTH_NAMES[month.number - 1] ?? "";
  const fits = month.failing === 0;
  return (
    <span
      className={`rounded px-1 whitespace-nowrap ${
        fits ? "bg-fit-wash text-fit" : "bg-high-wash font-semibold text-high"
      }`}
    >
      {name}{" "}
      {fits ? (
        <>
          <span aria-hidden="true">●</span>
          <span className="sr-only">nothing fails</span>
        </>
      ) : (
        <>
          <span aria-hidden="true">▲▼ {month.failing ?? "?"}</span>
          <span className="sr-only">{month.failing ?? "unknown how much"} to change</span>
        </>
      )}
    </span>
  );
}

interface DueLinesProps {
  forecast: Forecast;
  /** Tasks that are open today; undefined while that is not known. */
  tasks: number | undefined;
}

/** What is due: today's tasks, lamps to replace, or to measure it. */
export function DueLines({ forecast, tasks }: DueLinesProps) {
  const lamps = forecast.due.filter((d) => d.kind !== "measure");
  const measure = forecast.due.find((d) => d.kind === "measure");
  return (
    <span className="block" data-testid="due">
      {tasks !== undefined && tasks > 0 && (
        <span className="block font-semibold">
          {tasks} {tasks === 1 ? "task" : "tasks"} today
        </span>
      )}
      {lamps.map((d) => (
        <span
          key={d.about_id}
          className={`block ${d.kind === "replace_lamp" ? "font-semibold text-high" : ""}`}
        >
          {d.kind === "replace_lamp" && <span aria-hidden="true">! </span>}
          {d.message}
        </span>
      ))}
      {lamps.length === 0 && measure && (
        <span className="block truncate text-soft">{measure.message}</span>
      )}
    </span>
  );
}
