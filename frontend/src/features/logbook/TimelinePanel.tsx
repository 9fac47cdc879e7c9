import { useQuery } from "@tanstack/react-query";
import { scaleTime } from "d3-scale";
import { ChevronLeft, ChevronRight } from "lucide-react";
import { useState } from "react";
import { fetchTimeline } from "../../api/keeping";
import type { TimelineEvent } from "../../api/types";
import { describe } from "../../app/notices";
import { dayText, isoDay } from "../../domain/logbook/days";
import { KINDS } from "../../domain/logbook/kinds";
import { monthName } from "../../domain/year/year";
import { IconButton } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { useWidth } from "../../ui/useWidth";

interface TimelinePanelProps {
  planId: string;
  /** Changes when something was written or taken out. */
  version: string;
  onDay: (day: string) => void;
}

type Span = "60" | "240" | "all";
/** Room of a month in three letters. */
const NAME_PX = 28;
const LANES: readonly { lane: TimelineEvent["lane"]; label: string }[] = [
  { lane: "plan", label: "Plan" },
  { lane: "readings", label: "Readings" },
  { lane: "care", label: "Enclosure" },
  { lane: "animal", label: "Animal" },
  { lane: "meals", label: "Meals" },
];
const LANE = 30;
const LEFT = 74;
const DAY_MS = 86_400_000;

/** What happened on one line of time, so that "what changed before this" can be seen. */
export function TimelinePanel({ planId, version, onDay }: TimelinePanelProps) {
  const timeline = useQuery({
    queryKey: ["timeline", planId, version],
    queryFn: () => fetchTimeline(planId),
    placeholderData: (old) => old,
  });
  const [span, setSpan] = useState<Span>("240");
  const [looked, setLooked] = useState<number | null>(null);
  const [frame, width] = useWidth<HTMLDivElement>(600);
  const all = timeline.data?.events ?? [];
  const now = Date.now();
  const first = all[0] ? new Date(all[0].at).getTime() : now;
  const begin = span === "all" ? Math.min(first, now - 7 * DAY_MS) : now - Number(span) * DAY_MS;
  const x = scaleTime([begin, Math.max(begin + 1, now)], [LEFT, width - 12]);
  const shown = all.filter((e) => new Date(e.at).getTime() >= begin);
  const height = LANES.length * LANE + 22;
  const event = looked === null ? undefined : shown[looked];
  const before = event
    ? shown
        .filter((e) => e !== event && e.at <= event.at)
        .slice(-4)
        .reverse()
    : [];
  const step = (by: number) =>
    setLooked((i) => Math.min(shown.length - 1, Math.max(0, (i ?? shown.length) + by)));

  return (
    <section
      aria-label="Time line"
      className="rounded-xl border border-line bg-panel p-4"
      data-testid="timeline"
    >
      <div className="flex flex-wrap items-center justify-between gap-2">
        <h2 className="text-lg font-semibold">What happened</h2>
        <Choice
          label="How far back"
          value={span}
          onChange={(next) => {
            setSpan(next);
            setLooked(null);
          }}
          options={[
            { value: "60", label: "60 days" },
            { value: "240", label: "8 months" },
            { value: "all", label: "All" },
          ]}
        />
      </div>
      {timeline.isError && (
        <p role="alert" className="text-high">
          {describe(timeline.error).title}: {describe(timeline.error).detail}
        </p>
      )}
      <div ref={frame} className="mt-2">
        <svg
          width={width}
          height={height}
          role="img"
          aria-label={`${shown.length} events; the buttons below go from one to the next.`}
          className="block"
        >
          {months(begin, now).map((m) => (
            <g key={m.getTime()}>
              <line
                x1={x(m.getTime())}
                x2={x(m.getTime())}
                y1={0}
                y2={LANES.length * LANE}
                className="stroke-line"
              />
              <text
                // At the right end its name stands before its line.
                x={x(m.getTime()) + (x(m.getTime()) + NAME_PX > width ? -3 : 3)}
                textAnchor={x(m.getTime()) + NAME_PX > width ? "end" : "start"}
                y={height - 6}
                className="fill-soft text-[11px]"
              >
                {monthName(m.getMonth() + 1, "short")}
              </text>
            </g>
          ))}
          {event && (
            <line
              x1={x(new Date(event.at).getTime())}
              x2={x(new Date(event.at).getTime())}
              y1={0}
              y2={LANES.length * LANE}
              className="stroke-accent"
              strokeWidth={2}
            />
          )}
          {LANES.map(({ lane, label }, i) => (
            <g key={lane}>
              <text x={0} y={i * LANE + 19} className="fill-soft text-[13px]">
                {label}
              </text>
              <line
                x1={LEFT}
                x2={width - 12}
                y1={i * LANE + 15}
                y2={i * LANE + 15}
                className="stroke-line"
              />
            </g>
          ))}
          {shown.map((e, i) => {
            const lane = LANES.findIndex((l) => l.lane === e.lane);
            return (
              // biome-ignore lint/a11y/noStaticElementInteractions: the buttons below do the same
              <g
                key={`${e.at}${e.lane}${e.entry_id}`}
                transform={`translate(${x(new Date(e.at).getTime())} ${lane * LANE + 15})`}
                onClick={() => setLooked(i)}
                className="cursor-pointer"
              >
                <title>{`${dayText(e.at)}: ${e.text}`}</title>
                <rect x={-7} y={-14} width={14} height={28} fill="transparent" />
                <Mark event={e} on={i === looked} />
              </g>
            );
          })}
        </svg>
      </div>
      <div className="mt-1 flex items-start gap-2">
        <span className="flex shrink-0">
          <IconButton
            label="The one before"
            disabled={shown.length === 0 || looked === 0}
            onClick={() => step(-1)}
          >
            <ChevronLeft size={18} aria-hidden />
          </IconButton>
          <IconButton
            label="The one after"
            disabled={looked === null || looked >= shown.length - 1}
            onClick={() => step(1)}
          >
            <ChevronRight size={18} aria-hidden />
          </IconButton>
        </span>
        <div className="min-h-12 min-w-0 flex-1 text-sm" aria-live="polite">
          {event ? (
            <>
              <p>
                <strong>{dayText(event.at)}</strong>: {nameOf(event)}
                {event.text}{" "}
                <button
                  type="button"
                  className="font-medium text-accent underline"
                  onClick={() => onDay(isoDay(new Date(event.at)))}
                >
                  What was written that day
                </button>
              </p>
              {before.length > 0 && (
                <p className="text-soft">
                  Before it:{" "}
                  {before.map((b) => `${dayText(b.at)} ${nameOf(b)}${b.text}`).join(" · ")}
                </p>
              )}
            </>
          ) : (
            <p className="pt-1.5 text-soft">
              {shown.length === 0
                ? "Nothing in this time."
                : "Tap a mark, or step back, to see what it was and what was changed before it."}
            </p>
          )}
        </div>
      </div>
    </section>
  );
}

const nameOf = (event: TimelineEvent) =>
  event.entry_kind ? `${KINDS[event.entry_kind].label.toLowerCase()}, ` : "";

/** Shape says what it is, and a worry is a triangle: never by colour alone. */
function Mark({ event, on }: { event: TimelineEvent; on: boolean }) {
  const tone = event.worry ? "fill-high" : on ? "fill-ink" : "fill-accent";
  if (event.worry) return <path d="M0 -7 L6.5 5 L-6.5 5Z" className={tone} />;
  if (event.lane === "plan") return <rect x={-5} y={-5} width={10} height={10} className={tone} />;
  if (event.lane === "readings") return <path d="M0 -7 L6 0 L0 7 L-6 0Z" className={tone} />;
  // Meals come often: ticks, so that what is rarer stands out.
  if (event.lane === "meals") {
    return (
      <rect x={-1} y={on ? -9 : -6} width={on ? 3 : 2} height={on ? 18 : 12} className={tone} />
    );
  }
  return <circle r={on ? 6 : 4.5} className={tone} />;
}

/** The first of every month between two moments, thinned so that names have room. */
function months(begin: number, end: number): Date[] {
  const found: Date[] = [];
  const at = new Date(begin);
  at.setDate(1);
  at.setHours(0, 0, 0, 0);
  const step = Math.max(1, Math.ceil((end - begin) / (12 * 30 * DAY_MS)));
  for (at.setMonth(at.getMonth() + 1); at.getTime() < end; at.setMonth(at.getMonth() + step)) {
    found.push(new Date(at));
  }
  return found;
}
