import { fixed, unitFormat } from "../domain/units/units";
import { usePreferences } from "../ui/preferences";
import { FIELD_RAMP, type FieldName, type FieldScale } from "./fields";
import { rampGradient } from "./ramps";

interface LegendProps {
  name: FieldName;
  scale: FieldScale;
  /** The range wanted, with what it is wanted for. */
  wanted: { low: number | null; high: number | null; label: string } | null;
}

const TITLES: Record<FieldName, string> = {
  uvi: "UV index, facing the light",
  air: "Air temperature (surfaces on the same scale)",
  surface: "Surface temperature",
  humidity: "Relative humidity",
  irradiance: "Radiant heat, W/m² facing the light",
  light: "Visible light, lx on a level face",
};

export function fieldFormat(name: FieldName, units: "metric" | "imperial") {
  const t = unitFormat(units, "temperature");
  return (value: number): string => {
    if (name === "air" || name === "surface") return `${fixed(t.toShown(value), 0)}°`;
    if (name === "humidity") return `${fixed(100 * value, 0)} %`;
    return fixed(value, 1, true);
  };
}

/** The colour scale, with the species' range marked under it. */
export function Legend({ name, scale, wanted }: LegendProps) {
  const { units } = usePreferences();
  const format = fieldFormat(name, units);
  const at = (value: number) => Math.min(1, Math.max(0, scale.share(value)));
  const marks = scale.levels.filter(
    (_, i) => (name !== "air" && name !== "surface") || i % 2 === 0,
  );
  const low = wanted ? at(wanted.low ?? scale.low) : 0;
  const high = wanted ? at(wanted.high ?? scale.high) : 0;
  return (
    <figure
      className="w-full max-w-md min-w-64 flex-1 pr-3 text-xs text-soft"
      aria-label={TITLES[name]}
    >
      <figcaption className="mb-0.5 font-medium text-ink">{TITLES[name]}</figcaption>
      <div
        className="h-3 rounded-sm border border-line"
        style={{ backgroundImage: rampGradient(FIELD_RAMP[name]) }}
      />
      <div className="relative h-4">
        {[scale.low, ...marks, scale.high].map((value, i, all) => {
          const previous = all[i - 1];
          if (i > 0 && previous !== undefined && at(value) - at(previous) < 0.055) return null;
          return (
            <span
              key={value}
              className="absolute -translate-x-1/2"
              style={{ left: `${100 * at(value)}%` }}
            >
              {format(value)}
            </span>
          );
        })}
      </div>
      {wanted && high > low && (
        <div className="relative h-5">
          <div
            className="absolute top-0.5 h-1.5 rounded-full bg-fit"
            style={{ left: `${100 * low}%`, width: `${100 * (high - low)}%` }}
          />
          <span
            className="absolute top-2 whitespace-nowrap text-fit"
            style={{ left: `${100 * low}%` }}
          >
            {wanted.label}
          </span>
        </div>
      )}
    </figure>
  );
}
