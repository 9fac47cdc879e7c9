import clsx from "clsx";
import type { Check, Fix, Interval, Status } from "../../api/types";
import {
  fails,
  figureBesideLimits,
  needFormat,
  quantityWords,
  rangeText,
} from "../../domain/units/needs";
import { fixed, show } from "../../domain/units/units";
import { capitalized } from "../../domain/words";
import { Help } from "../../ui/Help";
import { usePreferences } from "../../ui/preferences";
import { STATUS_INK, STATUS_MARK, STATUS_WORD } from "../../ui/status";
import { Term } from "../../ui/Term";
import { FixLines } from "./FixLines";
import { Phrase } from "./Phrase";
import { Chevron, type PointingProps, pointing } from "./pointing";
import type { FixState } from "./useEvaluation";

const WASH: Record<Status, string> = {
  low: "bg-low-wash",
  ok: "",
  high: "bg-high-wash",
  uncertain: "bg-line/40",
  unknown: "bg-line/40",
};

const BASIS: Record<Check["evidence"]["kind"], string> = {
  predicted: "Predicted",
  fitted: "Predicted from readings of",
  measured: "Measured on",
};
const BASIS_TERM: Record<Check["evidence"]["kind"], string> = {
  predicted: "prediction",
  fitted: "fit",
  measured: "round",
};
const basisOf = ({ evidence: { kind, on } }: Check) => (on ? `${BASIS[kind]} ${on}` : BASIS[kind]);

/** The glossary's word for what is compared. */
const TERM: Record<Check["need"]["quantity"], string> = {
  surface_temperature: "surface-temperature",
  air_temperature: "probe-reading",
  water_temperature: "water-temperature",
  gradient: "gradient",
  uvi: "uv-index",
  humidity: "humidity",
  uv_free_share: "uv-refuge",
};
const termFor = ({ need }: Check) =>
  need.quantity === "air_temperature" && need.place === "night"
    ? "air-temperature"
    : TERM[need.quantity];

interface CheckRowProps extends PointingProps {
  check: Check;
  /** Which reading would settle it, if it is uncertain. */
  settles: string;
  /** The air of its place, °C. */
  air: number | undefined;
  interval: Interval | undefined;
  fix: FixState | undefined;
  onTry: (fix: Fix) => void;
  open: boolean;
  onOpen: (id: string) => void;
}

/** One check as a line: what, how much, against what is wanted. It opens into why and what to change. */
export function CheckRow(props: CheckRowProps) {
  const { check: v, interval, open, onOpen, onPoint } = props;
  const { units } = usePreferences();
  const format = needFormat(v.need.quantity, units);
  const noted = v.severity === "note";
  // The bar shows it where all is well.
  const shown = fails(v.severity) || v.status === "uncertain";
  const word = noted && v.status === "low" ? "optional" : STATUS_WORD[v.status];
  return (
    <li
      data-testid={`check-${v.id}`}
      data-status={v.status}
      data-severity={v.severity}
      className={clsx("border-t border-line", !noted && WASH[v.status])}
      {...pointing(v.place_id, onPoint)}
    >
      <button
        type="button"
        aria-expanded={open}
        onClick={() => onOpen(v.id)}
        className="grid min-h-6 w-full grid-cols-[0.9rem_minmax(0,1fr)_3.6rem_4.4rem_1rem] items-center gap-x-1.5 px-3 py-0.75 text-left text-sm leading-tight hover:bg-wash"
      >
        <span aria-hidden="true" className={STATUS_INK[v.status]}>
          {STATUS_MARK[v.status]}
        </span>
        <span>
          <b className="font-semibold">{v.place_label}</b>{" "}
          <span className="text-soft">{quantityWords(v.need.place, v.need.quantity)}</span>
          <span className={clsx("block text-xs", STATUS_INK[v.status], !shown && "sr-only")}>
            {word}, {v.required ? "needs" : "optional:"} {rangeText(v.need, units)}
          </span>
        </span>
        <RangeBar check={v} interval={interval} />
        <span className="text-right text-base leading-none font-semibold" data-testid="figure">
          {v.value === null ? "–" : figureBesideLimits(v.value, v.need, v.status, units)}
          <span className="text-xs font-normal text-soft">{format.unit}</span>
        </span>
        <Chevron open={open} />
      </button>
      {open && <CheckDetail {...props} />}
    </li>
  );
}

/** The range wanted and where it comes from, how sure the figure is, why it is so, and what to change. */
function CheckDetail({ check: v, settles, air, interval, fix, onTry }: CheckRowProps) {
  const { units } = usePreferences();
  const format = needFormat(v.need.quantity, units);
  const range = rangeText(v.need, units);
  const uvi = v.need.quantity === "uvi";
  const noted = v.severity === "note";
  const byProbe = v.need.quantity === "air_temperature" && v.need.place !== "night";
  return (
    <div className="px-3 pb-2 pl-8" data-testid={`detail-${v.id}`}>
      <div className="flex items-center gap-0.5 text-sm">
        <span>
          <Term id={termFor(v)}>{capitalized(quantityWords(v.need.place, v.need.quantity))}</Term>:{" "}
          {v.required ? "needs" : uvi ? "optional, UVI" : "optional,"} {range}
        </span>
        <Help about={`where the range for ${v.place_label} comes from`}>
          <p className="font-medium">
            {v.place_label}, {quantityWords(v.need.place, v.need.quantity)}: {range}
          </p>
          <p className="mt-1 text-soft">
            {v.need.grade}: {v.need.source}.
          </p>
          {v.need.claims.length > 1 && (
            <ul className="mt-1 text-soft">
              {v.need.claims.map((c) => (
                <li key={`${c.source}${c.about}${c.low}`}>
                  {rangeText({ quantity: v.need.quantity, low: c.low, high: c.high }, units)}
                  {c.about && `, ${c.about}`}: {c.source} ({c.grade})
                </li>
              ))}
            </ul>
          )}
          {v.need.note && <p className="mt-1 text-soft">Taken: {v.need.note}.</p>}
          {v.need.offered && (
            <p className="mt-1 text-soft">Optional for this species: less is no fault.</p>
          )}
          {byProbe && (
            <p className="mt-1 text-soft">
              Compared with what a shaded probe reads, as keepers measure: it feels the air and sees
              the surfaces around.{" "}
              {v.need.place !== "basking" && "The mean over where the animal can be there."}
            </p>
          )}
          {uvi && (
            <p className="mt-1 text-soft">
              {v.need.place === "uv_refuge"
                ? "Assessed with the meter turned to the light, the worst case."
                : "Assessed level, as the animal's back receives it."}
            </p>
          )}
        </Help>
      </div>
      <p className="mt-1 min-h-4 text-sm text-soft" data-testid="interval">
        {byProbe && air !== undefined && `Air ${show(air, "temperature", units, 1)}. `}
        <Term id={BASIS_TERM[v.evidence.kind]}>{basisOf(v)}</Term>
        {interval && v.value !== null && (
          <>
            : <Term id="likely">likely</Term>{" "}
            {intervalText(interval, format.figure, format.unit, fails(v.severity))}
          </>
        )}
      </p>
      {v.course && (
        <p className="mt-0.5 text-sm text-soft">
          Over the day with its sprays {format.figure(v.course.lowest)}–
          {format.figure(v.course.highest)}
          {format.unit}, in range for {fixed(100 * v.course.share, 0)} % of the hours.
        </p>
      )}
      {v.status === "uncertain" && (
        <p className="mt-0.5 text-sm">
          In range as computed, but with less than a 60 % chance. {settles}
        </p>
      )}
      {v.status !== "ok" && v.status !== "uncertain" && (
        <div className="mt-0.5 text-sm">
          <p>
            {noted && uvi && v.value === 0 ? (
              "No UV. Optional for this species."
            ) : (
              <Phrase parts={v.reason} />
            )}
          </p>
          {v.status !== "unknown" && (
            <FixLines fix={fix} place={v.place_label} onTry={onTry} quiet={noted} />
          )}
        </div>
      )}
    </div>
  );
}

function intervalText(
  interval: Interval,
  figure: (v: number) => string,
  unit: string,
  failed: boolean,
): string {
  const chance = 100 * interval.probability;
  const low = figure(interval.low);
  const high = figure(interval.high);
  const spread = low === high ? `${low}${unit}` : `${low}–${high}${unit}`;
  const cause = interval.causes[0];
  // Certainty is never claimed: an interval is a prediction.
  const shown = chance > 99 ? "over 99" : chance < 1 ? "under 1" : fixed(chance, 0);
  return `${spread}; ${shown} % chance of being in range${
    cause && (failed || chance < 90) ? `; least certain: ${cause.name}` : ""
  }.`;
}

/** The needed range as a band, the figure as a mark on it, its interval as a thin line. */
function RangeBar({ check: v, interval }: { check: Check; interval: Interval | undefined }) {
  if (v.value === null) return <span />;
  const share = v.need.quantity === "humidity" || v.need.quantity === "uv_free_share";
  const low = v.need.low ?? 0;
  const high = v.need.high ?? (share ? 1 : low + 10);
  const span = Math.max(high - low, share ? 0.05 : 0.5);
  const from = v.need.low === null ? 0 : Math.max(low - 0.75 * span, share ? 0 : -100);
  const to = share ? Math.min(1, high + 0.75 * span) : high + 0.75 * span;
  const at = (value: number) => 100 * Math.min(1, Math.max(0, (value - from) / (to - from)));
  return (
    <div aria-hidden="true" className="relative h-1.5 rounded-full bg-line">
      <div
        className="absolute inset-y-0 rounded-full bg-fit/45"
        style={{ left: `${at(low)}%`, right: `${100 - at(high)}%` }}
      />
      {interval && (
        <div
          className="absolute top-0.5 h-0.5 bg-ink"
          style={{ left: `${at(interval.low)}%`, right: `${100 - at(interval.high)}%` }}
        />
      )}
      <div
        className="absolute -top-1 h-3.5 w-1 -translate-x-1/2 rounded bg-ink outline outline-panel"
        style={{ left: `${at(v.value)}%` }}
      />
    </div>
  );
}
