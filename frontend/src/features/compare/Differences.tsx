import type { Comparison, PhrasePart, Status } from "../../api/types";
import { fixed, showFigure, type UnitSystem } from "../../domain/units/units";
import { usePreferences } from "../../ui/preferences";
import { STATUS_INK, STATUS_MARK, STATUS_WORD } from "../../ui/status";
import { Phrase } from "../plan/Phrase";

type Place = Comparison["places"][number];
type Figure = Place["figures"][number];

const NAME: Record<Figure["figure"], string> = {
  surface: "surface",
  air: "air",
  probe: "probe reading",
  uvi: "UV index at the back",
  uvi_facing: "UV index facing",
  humidity: "humidity",
  operative: "body (operative)",
};
/** Smaller differences than these are not worth a glance: K, UVI, share. */
const NOTICED: Record<Figure["figure"], number> = {
  surface: 0.05,
  air: 0.05,
  probe: 0.05,
  uvi: 0.05,
  uvi_facing: 0.05,
  humidity: 0.005,
  operative: 0.05,
};

function valueText(figure: Figure["figure"], value: number, units: UnitSystem): string {
  if (figure === "humidity") return showFigure(100 * value, "%", units);
  if (figure === "uvi" || figure === "uvi_facing") return fixed(value, 1);
  return showFigure(value, "°C", units);
}

function differenceText(f: Figure, units: UnitSystem): string {
  if (f.difference === null) return "–";
  if (Math.abs(f.difference) < NOTICED[f.figure]) return "same";
  const sign = f.difference > 0 ? "+" : "−";
  const size = Math.abs(f.difference);
  if (f.figure === "humidity") return `${sign}${showFigure(100 * size, "%", units)}`;
  if (f.figure === "uvi" || f.figure === "uvi_facing") return `${sign}${fixed(size, 1)}`;
  return `${sign}${showFigure(size, "K", units)}`;
}

/** How two plans differ, and what comes of it at each place. */
export function Differences({ comparison: c }: { comparison: Comparison }) {
  return (
    <div className="mt-6 grid gap-x-8 gap-y-6 lg:grid-cols-[minmax(0,3fr)_minmax(0,2fr)]">
      <section aria-labelledby="by-place" className="min-w-0">
        <h2 id="by-place" className="text-lg font-semibold">
          Differences by place
        </h2>
        <ByPlace places={c.places} />
        <Faults title="Faults that are gone on the right" tone="text-fit" list={c.findings_gone} />
        <Faults title="Faults only on the right" tone="text-high" list={c.findings_new} />
      </section>
      <section aria-labelledby="changed" className="min-w-0">
        <h2 id="changed" className="text-lg font-semibold">
          How the plans differ
        </h2>
        {c.changes.length === 0 && <p className="text-soft">Nothing: both are the same.</p>}
        <ul className="mt-1 text-sm">
          {c.changes.map((change, i) => (
            <li key={i} className="border-t border-line py-1">
              <b className="font-semibold">{change.thing}</b>: {change.what}
              {change.before.length > 0 && (
                <>
                  {" "}
                  <Phrase parts={change.before} /> <span aria-hidden="true">→</span>{" "}
                  <Phrase parts={change.after} />
                </>
              )}
            </li>
          ))}
        </ul>
      </section>
    </div>
  );
}

function Faults({ title, tone, list }: { title: string; tone: string; list: PhrasePart[][] }) {
  if (list.length === 0) return null;
  return (
    <div className="mt-3">
      <h3 className={`font-semibold ${tone}`}>{title}</h3>
      <ul className="list-disc pl-5 text-sm">
        {list.map((parts, i) => (
          <li key={i}>
            <Phrase parts={parts} />
          </li>
        ))}
      </ul>
    </div>
  );
}

function ByPlace({ places }: { places: Comparison["places"] }) {
  const { units } = usePreferences();
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: where it is narrow it scrolls sideways
    <section className="overflow-x-auto" aria-label="Differences by place, as a table" tabIndex={0}>
      <table className="w-full text-sm" data-testid="differences">
        <thead>
          <tr className="text-left text-soft">
            <th className="pr-3 font-medium">Place</th>
            <th className="pr-3 font-medium">Figure</th>
            <th className="pr-3 text-right font-medium">Left</th>
            <th className="pr-3 text-right font-medium">Right</th>
            <th className="text-right font-medium">Difference</th>
          </tr>
        </thead>
        <tbody>
          {places.map((place) =>
            place.figures.map((f, i) => {
              const text = differenceText(f, units);
              return (
                <tr
                  key={`${place.id} ${f.figure}`}
                  className={i === 0 ? "border-t-2 border-line" : "border-t border-line"}
                >
                  {i === 0 && (
                    <th
                      rowSpan={place.figures.length}
                      className="pr-3 text-left align-top font-semibold"
                    >
                      {place.label}
                      {place.only && (
                        <span className="block text-xs font-normal text-soft">
                          only {place.only === "before" ? "left" : "right"}
                        </span>
                      )}
                    </th>
                  )}
                  <td className="py-0.5 pr-3">{NAME[f.figure]}</td>
                  <Value figure={f} value={f.before} status={f.status_before} />
                  <Value figure={f} value={f.after} status={f.status_after} />
                  <td
                    className={`text-right whitespace-nowrap ${text === "same" || text === "–" ? "text-soft" : "font-semibold"}`}
                  >
                    {text}
                  </td>
                </tr>
              );
            }),
          )}
        </tbody>
      </table>
    </section>
  );
}

interface ValueProps {
  figure: Figure;
  value: number | null;
  status: Status | null;
}

function Value({ figure, value, status }: ValueProps) {
  const { units } = usePreferences();
  return (
    <td className={`pr-3 text-right whitespace-nowrap ${status ? STATUS_INK[status] : ""}`}>
      {value === null ? "–" : valueText(figure.figure, value, units)}
      {status && (
        <>
          <span aria-hidden="true"> {STATUS_MARK[status]}</span>
          <span className="sr-only"> {STATUS_WORD[status]}</span>
        </>
      )}
    </td>
  );
}
