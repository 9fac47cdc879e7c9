import { useQuery } from "@tanstack/react-query";
import { scaleLinear, scaleTime } from "d3-scale";
import { area, line } from "d3-shape";
import { Link } from "react-router";
import { fetchGrowth } from "../../api/growth";
import type { Growth, PlanDocument } from "../../api/types";
import { describe } from "../../app/notices";
import { dayText, isoDay, noonOf } from "../../domain/logbook/days";
import { fixed, show, unitFormat } from "../../domain/units/units";
import { usePreferences } from "../../ui/preferences";
import { useWidth } from "../../ui/useWidth";
import { Phrase } from "../plan/Phrase";
import type { PlanEditor } from "../plan/usePlanEditor";

const BASIS: Record<Growth["basis"], string> = {
  measured: "by its measured lengths",
  age: "by its age",
  plan: "by the length in the plan",
};

/** How the animal grows, what of its enclosure stops fitting when, and the plan to build next. */
export function GrowthPanel({ planId, editor }: { planId: string; editor: PlanEditor }) {
  const { document } = editor;
  const { units } = usePreferences();
  const on = isoDay();
  const text = JSON.stringify({ ...document, name: "", pins: [], year: null });
  const growth = useQuery({
    queryKey: ["growth", planId, on, text],
    queryFn: ({ signal }) => fetchGrowth(planId, document, on, signal),
    enabled: editor.settled,
    placeholderData: (old) => old,
    retry: false,
  });
  const data = growth.data;
  return (
    <section
      aria-label="Growth"
      className="rounded-xl border border-line bg-panel p-4"
      data-testid="growth"
    >
      <h2 className="text-lg font-semibold">Growth</h2>
      {growth.isPending && <p className="text-soft">Computing its growth…</p>}
      {growth.isError && (
        <p role="alert" className="text-high">
          {describe(growth.error).title}: {describe(growth.error).detail}
        </p>
      )}
      {data && (
        <>
          <p>
            {data.animal ?? "The animal"} is{" "}
            <strong>{show(data.length_m, "length", units, 1)}</strong> long, {BASIS[data.basis]}.
            Adults are {show(data.adult_m, "length", units, 1)} long.
          </p>
          {data.grown ? (
            <p className="text-soft">It is fully grown: this enclosure stays large enough.</p>
          ) : (
            <>
              <GrowthCurve growth={data} />
              {data.milestones.length === 0 ? (
                <p className="text-fit">● This enclosure fits until it is fully grown.</p>
              ) : (
                <ul className="divide-y divide-line">
                  {data.milestones.map((m) => (
                    <li key={m.id} className="py-1.5" data-testid={`milestone-${m.id}`}>
                      <strong>
                        {m.day ? `About ${dayText(m.day)}` : "When it is grown"}, at{" "}
                        {show(m.length_m, "length", units, 1)}:{" "}
                      </strong>
                      <Phrase parts={m.description} />
                      {m.earliest && (
                        <span className="block text-sm text-soft">
                          Between {dayText(m.earliest)} and{" "}
                          {m.latest ? dayText(m.latest) : "much later"}, as fast as it grows.
                        </span>
                      )}
                    </li>
                  ))}
                </ul>
              )}
              <div className="mt-2 flex flex-wrap items-center gap-3">
                <Link
                  to={nextEnclosure(document)}
                  className="inline-flex min-h-9 items-center rounded-md bg-accent px-3 font-medium text-accent-ink hover:opacity-90"
                >
                  Design the next enclosure
                </Link>
                <span className="text-sm text-soft">
                  A separate plan, designed for the adult in the same room; this one stays.
                </span>
              </div>
            </>
          )}
          <p className="mt-2 text-sm text-soft">
            Lengths you measure and write in the logbook improve this: with food and warmth one
            animal grows half as fast again as another.
          </p>
        </>
      )}
    </section>
  );
}

/** Where the enclosure of the grown animal is designed. */
function nextEnclosure({ animal, name }: PlanDocument): string {
  const asked = new URLSearchParams({
    species: animal.species_id,
    stage: "adult",
    count: String(animal.count ?? 1),
    name: `${name}, grown`.slice(0, 80),
  });
  return `/new?${asked}`;
}

const HEIGHT = 150;
const LEFT = 44;
const BOTTOM = 18;

type Point = Growth["curve"][number] & { t: number };

function GrowthCurve({ growth }: { growth: Growth }) {
  const { units } = usePreferences();
  const [frame, width] = useWidth<HTMLDivElement>(500);
  const format = unitFormat(units, "length");
  const points = growth.curve.map((p) => ({ ...p, t: noonOf(p.day).getTime() }));
  const begin = points[0]?.t ?? 0;
  const end = points.at(-1)?.t ?? 1;
  const x = scaleTime([begin, Math.max(begin + 1, end)], [LEFT, width - 10]);
  const y = scaleLinear([0, growth.adult_m * 1.05], [HEIGHT - BOTTOM, 8]);
  const course = line<Point>(
    (p) => x(p.t),
    (p) => y(p.length_m),
  )(points);
  const band = area<Point>(
    (p) => x(p.t),
    (p) => y(p.low_m),
    (p) => y(p.high_m),
  )(points);
  const last = points.at(-1);
  return (
    <div ref={frame}>
      <svg
        width={width}
        height={HEIGHT}
        role="img"
        aria-label={`It grows from ${show(growth.length_m, "length", units, 1)} to about ${show(last?.length_m ?? growth.adult_m, "length", units, 1)} by ${last ? dayText(last.day) : ""}.`}
        className="block"
      >
        <line
          x1={LEFT}
          x2={width - 10}
          y1={y(growth.adult_m)}
          y2={y(growth.adult_m)}
          className="stroke-edge"
          strokeDasharray="4 4"
        />
        <text
          x={LEFT - 5}
          y={y(growth.adult_m) + 4}
          textAnchor="end"
          className="fill-soft text-[11px]"
        >
          {fixed(format.toShown(growth.adult_m), 0)}
        </text>
        <text x={LEFT - 5} y={y(growth.length_m) + 4} textAnchor="end" className="text-[11px]">
          {fixed(format.toShown(growth.length_m), 1, true)}
        </text>
        <text x={2} y={HEIGHT - 4} className="fill-soft text-[11px]">
          {format.suffix}
        </text>
        <path d={band ?? undefined} className="fill-accent" opacity={0.18} />
        <path d={course ?? undefined} className="fill-none stroke-accent" strokeWidth={2.5} />
        {growth.milestones.map(
          (m) =>
            m.day && (
              <path
                key={m.id}
                d={`M${x(noonOf(m.day).getTime())} ${y(m.length_m) - 8}l6 11h-12Z`}
                className="fill-high"
              />
            ),
        )}
        <text x={LEFT} y={HEIGHT - 4} className="fill-soft text-[11px]">
          today
        </text>
        {last && (
          <text x={width - 10} y={HEIGHT - 4} textAnchor="end" className="fill-soft text-[11px]">
            {dayText(last.day)}
          </text>
        )}
      </svg>
    </div>
  );
}
