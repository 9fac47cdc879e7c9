import { scaleBand, scaleLinear } from "d3-scale";
import type { Species } from "../../api/types";
import { fixed, unitFormat } from "../../domain/units/units";
import { capitalized } from "../../domain/words";
import { usePreferences } from "../../ui/preferences";

const MONTHS = ["J", "F", "M", "A", "M", "J", "J", "A", "S", "O", "N", "D"];
const WIDTH = 420;
const TALL = 130;
const LEFT = 30;

/** The year at home: nightly lowest to daily highest air, rain below, day length above. */
export function HomeChart({ home }: { home: Species["home"] }) {
  const { units } = usePreferences();
  const t = unitFormat(units, "temperature");
  const low = Math.min(...home.minimum_c) - 2;
  const high = Math.max(...home.maximum_c) + 2;
  const wettest = Math.max(...home.rain_mm, 1);
  const column = scaleBand<number>(MONTHS.keys(), [LEFT, WIDTH]);
  const step = column.bandwidth();
  const y = scaleLinear([low, high], [TALL, 22]);
  return (
    <figure>
      <svg
        viewBox={`0 0 ${WIDTH} ${TALL + 56}`}
        className="w-full max-w-xl"
        role="img"
        aria-label={`Air at home from ${fixed(t.toShown(Math.min(...home.minimum_c)), 0)} to ${fixed(
          t.toShown(Math.max(...home.maximum_c)),
          0,
        )} ${t.suffix} over the year`}
      >
        {[Math.min(...home.minimum_c), Math.max(...home.maximum_c)].map((c) => (
          <text key={c} x={0} y={y(c) + 4} className="fill-soft text-[10px]">
            {fixed(t.toShown(c), 0)}°
          </text>
        ))}
        {MONTHS.map((month, i) => {
          const x = column(i) ?? LEFT;
          const [a, b] = [home.minimum_c[i] ?? 0, home.maximum_c[i] ?? 0];
          const rain = (32 * (home.rain_mm[i] ?? 0)) / wettest;
          return (
            <g key={i}>
              <text x={x + step / 2} y={10} textAnchor="middle" className="fill-soft text-[9px]">
                {fixed(home.day_h[i] ?? 0, 0)} h
              </text>
              <rect
                x={x + 6}
                y={y(b)}
                width={step - 12}
                height={y(a) - y(b)}
                rx={4}
                className="fill-second"
              />
              <rect
                x={x + 6}
                y={TALL + 8 + 32 - rain}
                width={step - 12}
                height={rain}
                className="fill-low"
              />
              <text
                x={x + step / 2}
                y={TALL + 53}
                textAnchor="middle"
                className="fill-soft text-[10px]"
              >
                {month}
              </text>
            </g>
          );
        })}
      </svg>
      <figcaption className="text-sm text-soft">
        {capitalized(home.label)}. Bars: nightly lowest to daily highest air; below, rain (at most{" "}
        {fixed(wettest, 0)} mm a month); above, hours of daylight. {capitalized(home.source)}.
      </figcaption>
    </figure>
  );
}
