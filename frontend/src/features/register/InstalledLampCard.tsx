import type { InstalledLampStatus } from "../../api/types";
import { dayText } from "../../domain/logbook/days";
import { fixed } from "../../domain/units/units";
import { Button } from "../../ui/Button";

interface InstalledLampCardProps {
  known: InstalledLampStatus;
  onReplace?: () => void;
  onMove: () => void;
  onDown?: () => void;
  onEdit: () => void;
}

/** One lamp: what it has burned, what it still gives, where it hung and what was read of it. */
export function InstalledLampCard({
  known,
  onReplace,
  onMove,
  onDown,
  onEdit,
}: InstalledLampCardProps) {
  const { installed_lamp: lamp, output, life_h } = known;
  const past = known.installations.filter((h) => h.ended_on !== null);
  const over = life_h !== null && known.hours > life_h;
  return (
    <li className="py-3" data-testid={`lamp-${lamp.id}`} data-state={known.state}>
      <div className="flex flex-wrap items-start gap-x-4 gap-y-2">
        <div className="min-w-56 flex-1">
          <p className="leading-snug">
            <strong>{lamp.label}</strong>{" "}
            <span className="text-soft">
              {known.lamp_label}, {fixed(lamp.power_w, 0)} W
            </span>
          </p>
          <p className={`text-sm ${over ? "font-semibold text-high" : "text-soft"}`}>
            {over && "! "}
            {hoursText(known.hours)} burned
            {life_h !== null && ` of about ${hoursText(life_h)}`}
            {known.hours_a_day > 0 && `, ${fixed(known.hours_a_day, 1)} h a day`}
            {lamp.installed_on && `, first hung on ${dayText(lamp.installed_on)}`}
            {lamp.retired_on && `, thrown away on ${dayText(lamp.retired_on)}`}
          </p>
        </div>
        {output && <OutputBar output={output} />}
        <div className="flex flex-wrap gap-1">
          {onReplace && (
            <Button size="small" onClick={onReplace} aria-label={`Replace: ${lamp.label}`}>
              Replace
            </Button>
          )}
          <Button
            size="small"
            onClick={onMove}
            aria-label={`${known.state === "installed" ? "Move" : "Hang it"}: ${lamp.label}`}
          >
            {known.state === "installed" ? "Move" : "Hang it"}
          </Button>
          {onDown && (
            <Button size="small" onClick={onDown} aria-label={`Take down: ${lamp.label}`}>
              Take down
            </Button>
          )}
          <Button size="small" tone="quiet" onClick={onEdit} aria-label={`Change: ${lamp.label}`}>
            Change
          </Button>
        </div>
      </div>
      {(past.length > 0 || known.readings.length > 0 || lamp.note) && (
        <details className="mt-1 text-sm">
          <summary className="inline-flex min-h-8 items-center text-soft">
            {[
              past.length > 0 &&
                `hung in ${past.length + (known.state === "installed" ? 1 : 0)} places`,
              known.readings.length > 0 &&
                `${known.readings.length} UV reading${known.readings.length > 1 ? "s" : ""}`,
              lamp.note && "note",
            ]
              .filter(Boolean)
              .join(", ")}
          </summary>
          <ul className="ml-3 list-disc pl-3">
            {known.installations.map((h) => (
              <li key={`${h.plan_id} ${h.began_on} ${h.fixture_id}`}>
                {dayText(h.began_on)} to {h.ended_on ? dayText(h.ended_on) : "now"}: {h.plan_name},{" "}
                {h.fixture_label} ({hoursText(h.hours)})
              </li>
            ))}
            {known.readings.map((r) => (
              <li key={r.taken_at + r.place}>
                {dayText(r.taken_at)}: UV index {fixed(r.uvi, 1)} read at{" "}
                {r.place || "the enclosure"}
              </li>
            ))}
          </ul>
          {lamp.note && <p className="mt-1 whitespace-pre-line">{lamp.note}</p>}
        </details>
      )}
    </li>
  );
}

export const hoursText = (hours: number) => `${Math.round(hours).toLocaleString()} h`;

const WIDTH = 150;

/** UV still given against a lamp of 100 h: a bar, with the middle 80 % of what it may be. */
function OutputBar({ output }: { output: NonNullable<InstalledLampStatus["output"]> }) {
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
