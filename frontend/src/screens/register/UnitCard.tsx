import type { KnownUnit } from "../../api/types";
import { dayText } from "../../logbook/days";
import { Button } from "../../ui/Button";
import { fixed } from "../../units/units";

interface UnitCardProps {
  known: KnownUnit;
  onReplace?: () => void;
  onMove: () => void;
  onDown?: () => void;
  onEdit: () => void;
}

/** One lamp: what it has burned, what it still gives, where it hung and what was read of it. */
export function UnitCard({ known, onReplace, onMove, onDown, onEdit }: UnitCardProps) {
  const { unit, output, life_h } = known;
  const past = known.hangings.filter((h) => h.ended_on !== null);
  const over = life_h !== null && known.hours > life_h;
  return (
    <li className="py-3" data-testid={`unit-${unit.id}`} data-state={known.state}>
      <div className="flex flex-wrap items-start gap-x-4 gap-y-2">
        <div className="min-w-56 flex-1">
          <p className="leading-snug">
            <strong>{unit.label}</strong>{" "}
            <span className="text-soft">
              {known.lamp_label}, {fixed(unit.power_w, 0)} W
            </span>
          </p>
          <p className={`text-sm ${over ? "font-semibold text-high" : "text-soft"}`}>
            {over && "! "}
            {hoursText(known.hours)} burned
            {life_h !== null && ` of about ${hoursText(life_h)}`}
            {known.hours_a_day > 0 && `, ${fixed(known.hours_a_day, 1)} h a day`}
            {unit.installed_on && `, first hung on ${dayText(unit.installed_on)}`}
            {unit.retired_on && `, thrown away on ${dayText(unit.retired_on)}`}
          </p>
        </div>
        {output && <OutputBar output={output} />}
        <div className="flex flex-wrap gap-1">
          {onReplace && (
            <Button size="small" onClick={onReplace} aria-label={`Replace: ${unit.label}`}>
              Replace
            </Button>
          )}
          <Button
            size="small"
            onClick={onMove}
            aria-label={`${known.state === "hanging" ? "Move" : "Hang it"}: ${unit.label}`}
          >
            {known.state === "hanging" ? "Move" : "Hang it"}
          </Button>
          {onDown && (
            <Button size="small" onClick={onDown} aria-label={`Take down: ${unit.label}`}>
              Take down
            </Button>
          )}
          <Button size="small" tone="quiet" onClick={onEdit} aria-label={`Change: ${unit.label}`}>
            Change
          </Button>
        </div>
      </div>
      {(past.length > 0 || known.readings.length > 0 || unit.note) && (
        <details className="mt-1 text-sm">
          <summary className="inline-flex min-h-8 items-center text-soft">
            {[
              past.length > 0 &&
                `hung in ${past.length + (known.state === "hanging" ? 1 : 0)} places`,
              known.readings.length > 0 &&
                `${known.readings.length} UV reading${known.readings.length > 1 ? "s" : ""}`,
              unit.note && "note",
            ]
              .filter(Boolean)
              .join(", ")}
          </summary>
          <ul className="ml-3 list-disc pl-3">
            {known.hangings.map((h) => (
              <li key={`${h.plan_id} ${h.began_on} ${h.fixture_id}`}>
                {dayText(h.began_on)} to {h.ended_on ? dayText(h.ended_on) : "now"}: {h.plan_name},{" "}
                {h.fixture_label} ({hoursText(h.hours)})
              </li>
            ))}
            {known.readings.map((r) => (
              <li key={r.taken_at + r.place}>
                {dayText(r.taken_at)}: UV index {fixed(r.uvi, 1)} read at {r.place || "the box"}
              </li>
            ))}
          </ul>
          {unit.note && <p className="mt-1 whitespace-pre-line">{unit.note}</p>}
        </details>
      )}
    </li>
  );
}

export const hoursText = (hours: number) => `${Math.round(hours).toLocaleString()} h`;

const WIDTH = 150;

/** UV still given against a lamp of 100 h: a bar, with the middle 80 % of what it may be. */
function OutputBar({ output }: { output: NonNullable<KnownUnit["output"]> }) {
  const percent = (share: number) => `${fixed(100 * share, 0)} %`;
  const x = (share: number) => Math.min(1.15, share) * (WIDTH / 1.15);
  const sure = output.high - output.low < 0.005;
  return (
    <figure className="w-40">
      <svg width={WIDTH} height={18} aria-hidden="true">
        <rect y={4} width={WIDTH} height={10} rx={5} className="fill-line" />
        <rect y={4} width={x(output.share)} height={10} rx={5} className="fill-first" />
        {!sure && (
          <path
            d={`M${x(output.low)} 9H${x(output.high)}M${x(output.low)} 3V15M${x(output.high)} 3V15`}
            className="fill-none stroke-ink"
            strokeWidth={2}
          />
        )}
      </svg>
      <figcaption className="text-sm">
        <strong>{percent(output.share)}</strong> of its UV
        {!sure && (
          <span className="block text-soft">
            likely {percent(output.low)} to {percent(output.high)}
          </span>
        )}
      </figcaption>
    </figure>
  );
}
