import { fixed, unitFormat } from "../domain/units/units";
import { usePreferences } from "../ui/preferences";
import { Term } from "../ui/Term";
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

const TERM: Record<FieldName, string> = {
  uvi: "facing-level",
  air: "air-temperature",
  surface: "surface-temperature",
  humidity: "humidity",
  irradiance: "radiant-heat",
  light: "visible-light",
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
    <figure className="min-w-56 max-w-xl flex-1 text-xs text-soft" aria-label={TITLES[name]}>
      <figcaption className="flex flex-wrap justify-between gap-x-3 font-medium text-ink">
        <Term id={TERM[name]}>{TITLES[name]}</Term>
        {wanted && high > low && <span className="text-fit">▬ {wanted.label}</span>}
      </figcaption>
      <div className="relative pt-1.5">
        {wanted && high > low && (
          <div
            className="absolute top-0 h-1 rounded-full bg-fit"
            style={{ left: `${100 * low}%`, width: `${100 * (high - low)}%` }}
          />
        )}
        <div
          className="h-2.5 rounded-sm border border-line"
          style={{ backgroundImage: rampGradient(FIELD_RAMP[name]) }}
        />
      </div>
      <div className="relative h-4">
        {[scale.low, ...marks, scale.high].map((value, i, all) => {
          const previous = all[i - 1];
          if (i > 0 && previous !== undefined && at(value) - at(previous) < 0.055) return null;
          return (
            <span
              key={value}
              className="absolute -translate-x-1/2 first:translate-x-0 last:-translate-x-full"
              style={{ left: `${100 * at(value)}%` }}
            >
              {format(value)}
            </span>
          );
        })}
      </div>
    </figure>
  );
}
