import clsx from "clsx";
import { ShieldAlert, Wrench } from "lucide-react";
import { memo } from "react";
import type { Evaluation, Finding, Mend, Status, Verdict } from "../../api/types";
import { usePreferences } from "../../app/preferences";
import { Button } from "../../ui/Button";
import { Help } from "../../ui/Help";
import { NumberField } from "../../ui/NumberField";
import { fixed, show, unitFormat } from "../../units/units";
import { Phrase } from "./Phrase";
import type { MendState } from "./useEvaluation";

interface VerdictsProps {
  evaluation: Evaluation | null;
  mends: Record<string, MendState>;
  /** Whether changes are looked for: only for the lamps as they are. */
  proposing: boolean;
  onTry: (mend: Mend) => void;
  onPatchAbove: (above: number) => void;
  bodyLength: number;
}

const LOOKING: MendState = { kind: "looking" };
const WORD: Record<Status, string> = {
  below: "too low",
  within: "fits",
  above: "too high",
  cannot_tell: "cannot tell",
};
const SHAPE: Record<Status, string> = { below: "▼", within: "●", above: "▲", cannot_tell: "?" };
const INK: Record<Status, string> = {
  below: "text-low",
  within: "text-fit",
  above: "text-high",
  cannot_tell: "text-soft",
};
const WASH: Record<Status, string> = {
  below: "bg-low-wash",
  within: "",
  above: "bg-high-wash",
  cannot_tell: "bg-wash",
};
const QUANTITY: Record<Verdict["need"]["quantity"], string> = {
  surface_temperature: "surface",
  air_temperature: "air",
  uvi: "UV index",
};

/** What the animal needs against what it gets, place by place. */
export const Verdicts = memo(function Verdicts({
  evaluation,
  mends,
  proposing,
  onTry,
  onPatchAbove,
  bodyLength,
}: VerdictsProps) {
  if (!evaluation) {
    return (
      <div aria-busy="true" className="space-y-2 p-4">
        <p className="text-soft">Working out the climate…</p>
        {[0, 1, 2, 3].map((i) => (
          <div key={i} className="h-14 rounded-lg bg-line/50" />
        ))}
      </div>
    );
  }
  const failed = evaluation.verdicts.filter((v) => v.status !== "within").length;
  const dangers = evaluation.findings.filter((f) => f.severity === "danger").length;
  return (
    <div>
      <div className="flex items-baseline justify-between gap-3 px-4 pt-3 pb-2">
        <h2
          className={clsx(
            "text-xl leading-tight font-semibold",
            failed + dangers > 0 ? "text-high" : "text-fit",
          )}
          data-testid="headline"
          aria-live="polite"
        >
          {failed + dangers === 0
            ? "Everything fits"
            : `${failed + dangers} of ${evaluation.verdicts.length + dangers} need a change`}
        </h2>
        <span className="rounded-full border border-edge px-2 py-0.5 text-xs whitespace-nowrap text-soft">
          predicted, not measured
        </span>
      </div>
      {evaluation.findings.map((f) => (
        <FindingRow key={f.id} finding={f} />
      ))}
      <ul>
        {evaluation.verdicts.map((v) => (
          <VerdictRow
            key={v.id}
            verdict={v}
            mend={proposing ? (mends[v.id] ?? LOOKING) : undefined}
            onTry={onTry}
          />
        ))}
      </ul>
      <LightByPlace evaluation={evaluation} />
      <WarmthByPlace evaluation={evaluation} onPatchAbove={onPatchAbove} bodyLength={bodyLength} />
    </div>
  );
});

/** Light at every place: both ways of holding the meter, the class of exposure, lux and light for plants. */
function LightByPlace({ evaluation }: { evaluation: Evaluation }) {
  const plants = evaluation.places.some((p) => (p.ppfd_umol_m2_s ?? 0) >= 0.5);
  return (
    <details className="border-t border-line px-4 py-2" data-testid="light-by-place">
      <summary className="min-h-8 py-1 font-semibold">Light, place by place</summary>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: where it is narrow it scrolls sideways */}
      <section className="overflow-x-auto" aria-label="Light at each place" tabIndex={0}>
        <table className="w-full text-right text-sm whitespace-nowrap">
          <thead className="text-soft">
            <tr>
              <th className="text-left font-medium">Place</th>
              <th className="pl-2 font-medium">UVI level</th>
              <th className="pl-2 font-medium">facing</th>
              <th className="pl-2 font-medium">class</th>
              <th className="pl-2 font-medium">lx</th>
              {plants && <th className="pl-2 font-medium">PPFD</th>}
              {plants && <th className="pl-2 font-medium">DLI</th>}
            </tr>
          </thead>
          <tbody>
            {evaluation.places.map((p) => (
              <tr key={p.id} className="border-t border-line">
                <th className="py-1 text-left font-normal">{p.label}</th>
                <td className="pl-2">{fixed(p.uvi_level ?? 0, 1)}</td>
                <td className="pl-2">{fixed(p.uvi_facing ?? 0, 1)}</td>
                <td className="pl-2">{exposureName(p.exposure_class)}</td>
                <td className="pl-2">{fixed(p.illuminance_lx ?? 0, 0)}</td>
                {plants && <td className="pl-2">{fixed(p.ppfd_umol_m2_s ?? 0, 0)}</td>}
                {plants && <td className="pl-2">{fixed(p.daily_light_mol_m2 ?? 0, 1)}</td>}
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <p className="mt-1 text-sm text-soft">
        {fixed(100 * evaluation.uv_free_share, 0)} % of the ground is free of UV (at most UVI 0.1).
        Class: the lowest of Ferguson's four whose animals seek such a UV index of their own will,
        from 1 (dusk and shade) to 4 (mid-day sun).
        {plants && " Light for plants: PPFD in µmol/m²/s, and over the day (DLI) in mol/m²."}
      </p>
    </details>
  );
}

interface WarmthProps {
  evaluation: Evaluation;
  onPatchAbove: (above: number) => void;
  bodyLength: number;
}

/** Air, ground, operative temperature and humidity of every place, and how far the warm patch reaches. */
function WarmthByPlace({ evaluation, onPatchAbove, bodyLength }: WarmthProps) {
  const { units } = usePreferences();
  const t = (v: number) => show(v, "temperature", units, 1);
  const length = (m: number) => show(m, "length", units, 0);
  const { patch } = evaluation;
  return (
    <details className="border-t border-line px-4 py-2" data-testid="warmth-by-place">
      <summary className="min-h-8 py-1 font-semibold">Warmth and moisture, place by place</summary>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: where it is narrow it scrolls sideways */}
      <section className="overflow-x-auto" aria-label="Warmth at each place" tabIndex={0}>
        <table className="w-full text-right text-sm whitespace-nowrap">
          <thead className="text-soft">
            <tr>
              <th className="text-left font-medium">Place</th>
              <th className="pl-2 font-medium">air</th>
              <th className="pl-2 font-medium">surface</th>
              <th className="pl-2 font-medium">body</th>
              <th className="pl-2 font-medium">humidity</th>
            </tr>
          </thead>
          <tbody>
            {evaluation.places.map((p) => (
              <tr key={p.id} className="border-t border-line">
                <th className="py-1 text-left font-normal">{p.label}</th>
                <td className="pl-2">{t(p.air_c)}</td>
                <td className="pl-2">{p.surface_c === null ? "–" : t(p.surface_c)}</td>
                <td className="pl-2">{t(p.operative_c)}</td>
                <td className="pl-2">{fixed(100 * p.relative_humidity, 0)} %</td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <p className="mt-1 text-sm text-soft">
        Body: the operative temperature, what a dry body of this length would settle at there.
      </p>
      {patch && (
        <div className="mt-2">
          <NumberField
            label="Warm patch of at least"
            dimension="temperature"
            value={patch.above_c}
            min={0}
            max={100}
            onCommit={onPatchAbove}
          />
          <p className="text-sm" data-testid="warm-patch">
            {patch.area_m2 > 0 ? (
              <>
                <b>
                  {length(patch.length_m)} × {length(patch.width_m)}
                </b>
                : {fixed(Math.min(patch.length_m, patch.width_m) / bodyLength, 1)} body lengths at
                its shorter side.{" "}
                {Math.min(patch.length_m, patch.width_m) < bodyLength &&
                  "Too small: part of the animal stays cold while the rest overheats."}
              </>
            ) : (
              "No part of the slab is that warm."
            )}
          </p>
        </div>
      )}
    </details>
  );
}

function exposureName(number: number | null): string {
  if (number === null) return "–";
  return number === 0 ? "free" : number > 4 ? "beyond 4" : String(number);
}

function FindingRow({ finding }: { finding: Finding }) {
  const danger = finding.severity === "danger";
  return (
    <p
      data-testid={`finding-${finding.id}`}
      className={clsx(
        "mx-4 mb-2 flex gap-2 rounded-lg p-2.5 text-sm",
        danger ? "bg-high-wash text-high" : "bg-wash",
      )}
    >
      <ShieldAlert size={18} className="mt-0.5 shrink-0" aria-hidden />
      <span>
        <strong>{danger ? "Danger: " : "Take care: "}</strong>
        <Phrase parts={finding.message} />
      </span>
    </p>
  );
}

interface VerdictRowProps {
  verdict: Verdict;
  mend: MendState | undefined;
  onTry: (mend: Mend) => void;
}

function VerdictRow({ verdict: v, mend, onTry }: VerdictRowProps) {
  const { units } = usePreferences();
  const uvi = v.need.quantity === "uvi";
  const t = unitFormat(units, "temperature");
  const number = (value: number) => (uvi ? fixed(value, 1) : fixed(t.toShown(value), 1));
  const limit = (value: number) =>
    uvi ? fixed(value, 1, true) : fixed(t.toShown(value), units === "metric" ? 1 : 0, true);
  const unit = uvi ? "" : ` ${t.suffix}`;
  const { low, high } = v.need;
  const range =
    low === null
      ? `at most ${limit(high ?? 0)}${unit}`
      : high === null
        ? `at least ${limit(low)}${unit}`
        : `${limit(low)}–${limit(high)}${unit}`;
  return (
    <li
      data-testid={`verdict-${v.id}`}
      data-status={v.status}
      className={clsx("border-t border-line px-4 py-2", WASH[v.status])}
    >
      <div className="grid grid-cols-[1fr_auto_5.2rem] items-center gap-x-3">
        <div className="min-w-0">
          <h3 className="leading-tight font-semibold">
            {v.place_label}{" "}
            <span className="font-normal text-soft">{QUANTITY[v.need.quantity]}</span>
          </h3>
          <div className="flex items-center gap-0.5 text-sm text-soft">
            needs {range}
            <Help about={`where the range for ${v.place_label} comes from`}>
              <p className="font-medium">
                {v.place_label}, {QUANTITY[v.need.quantity]}: {range}
              </p>
              <p className="mt-1 text-soft">
                {v.need.grade}: {v.need.source}.
              </p>
              {uvi && (
                <p className="mt-1 text-soft">
                  {v.need.place === "retreat"
                    ? "Judged with the meter turned to the light, the worst case."
                    : "Judged level, as the animal's back receives it."}
                </p>
              )}
            </Help>
          </div>
        </div>
        <div className="text-right text-xl leading-none font-semibold" data-testid="figure">
          {v.value === null ? "–" : number(v.value)}
          <span className="text-sm font-normal text-soft">{unit}</span>
        </div>
        <div className={clsx("text-sm font-semibold", INK[v.status])}>
          <span aria-hidden="true">{SHAPE[v.status]} </span>
          {WORD[v.status]}
        </div>
      </div>
      <RangeBar verdict={v} />
      {v.status !== "within" && (
        <div className="mt-1.5 text-sm">
          <p>
            <Phrase parts={v.reason} />
          </p>
          {(v.status === "below" || v.status === "above") && (
            <MendLine mend={mend} place={v.place_label} onTry={onTry} />
          )}
        </div>
      )}
    </li>
  );
}

function MendLine(props: {
  mend: MendState | undefined;
  place: string;
  onTry: (mend: Mend) => void;
}) {
  const { mend, place, onTry } = props;
  if (!mend) {
    return <p className="mt-1.5 text-soft">Changes are proposed for the lamps as they are now.</p>;
  }
  if (mend.kind === "looking") {
    return <p className="mt-1.5 text-soft">Looking for a change that helps…</p>;
  }
  if (mend.kind === "none") {
    return <p className="mt-1.5 text-soft">No single change that was tried puts this right.</p>;
  }
  const { sentence, breaks } = mend.mend;
  return (
    <div className="mt-1.5 flex items-start gap-2 rounded-md border border-edge bg-raised p-2">
      <Wrench size={16} className="mt-0.5 shrink-0 text-accent" aria-hidden />
      <p className="min-w-0 flex-1" data-testid="mend">
        <Phrase parts={sentence} />
        {breaks.length > 0 && (
          <span className="mt-0.5 block text-high">But it breaks: {breaks.join("; ")}.</span>
        )}
      </p>
      <Button
        size="small"
        tone="strong"
        aria-label={`Try it for ${place}`}
        onClick={() => onTry(mend.mend)}
      >
        Try it
      </Button>
    </div>
  );
}

/** The needed range as a band, the figure as a mark on it. */
function RangeBar({ verdict: v }: { verdict: Verdict }) {
  if (v.value === null) return null;
  const low = v.need.low ?? 0;
  const high = v.need.high ?? low + 10;
  const span = Math.max(high - low, 0.5);
  const from = v.need.low === null ? 0 : low - 0.75 * span;
  const to = high + 0.75 * span;
  const at = (value: number) => 100 * Math.min(1, Math.max(0, (value - from) / (to - from)));
  return (
    <div aria-hidden="true" className="relative mt-1.5 h-2 rounded-full bg-line">
      <div
        className="absolute inset-y-0 rounded-full bg-fit/45"
        style={{ left: `${at(low)}%`, right: `${100 - at(high)}%` }}
      />
      <div
        className="absolute -top-1 h-4 w-1 -translate-x-1/2 rounded bg-ink outline outline-panel"
        style={{ left: `${at(v.value)}%` }}
      />
    </div>
  );
}
