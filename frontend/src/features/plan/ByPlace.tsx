import type { ReactNode } from "react";
import type { Evaluation } from "../../api/types";
import { fixed, show } from "../../domain/units/units";
import { NumberField } from "../../ui/NumberField";
import { usePreferences } from "../../ui/preferences";

/** Light at every place: both ways of holding the meter, the class of exposure, lux and light for plants. */
export function LightByPlace({ evaluation }: { evaluation: Evaluation }) {
  const plants = evaluation.places.some((p) => (p.ppfd_umol_m2_s ?? 0) >= 0.5);
  return (
    <PlaceTable
      testId="light-by-place"
      summary="Light, place by place"
      label="Light at each place"
      heads={["UVI level", "facing", "class", "lx", ...(plants ? ["PPFD", "DLI"] : [])]}
      rows={evaluation.places.map((p) => (
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
    >
      <p className="mt-1 text-sm text-soft">
        {fixed(100 * evaluation.uv_free_share, 0)} % of the ground is free of UV (at most UVI 0.1).
        Class: the lowest of Ferguson's four whose animals seek such a UV index by themselves, from
        1 (dusk and shade) to 4 (mid-day sun).
        {plants && " Light for plants: PPFD in µmol/m²/s, and over the day (DLI) in mol/m²."}
      </p>
    </PlaceTable>
  );
}

interface WarmthProps {
  evaluation: Evaluation;
  onPatchAbove: (above: number) => void;
  bodyLength: number;
}

/** Air, probe reading, ground, operative temperature and humidity of every place, and how far the warm patch reaches. */
export function WarmthByPlace({ evaluation, onPatchAbove, bodyLength }: WarmthProps) {
  const { units } = usePreferences();
  const t = (v: number) => show(v, "temperature", units, 1);
  const length = (m: number) => show(m, "length", units, 0);
  const { patch } = evaluation;
  return (
    <PlaceTable
      testId="warmth-by-place"
      summary="Warmth and moisture, place by place"
      label="Warmth at each place"
      heads={["air", "probe", "surface", "body", "humidity"]}
      rows={
        <>
          {" "}
          {evaluation.places.map((p) => (
            <tr key={p.id} className="border-t border-line">
              <th className="py-1 text-left font-normal">{p.label}</th>
              <td className="pl-2">{t(p.air_c)}</td>
              <td className="pl-2">{t(p.probe_c)}</td>
              <td className="pl-2">{p.surface_c === null ? "–" : t(p.surface_c)}</td>
              <td className="pl-2">{t(p.operative_c)}</td>
              <td className="pl-2">{fixed(100 * p.relative_humidity, 0)} %</td>
            </tr>
          ))}
        </>
      }
    >
      <p className="mt-1 text-sm text-soft">
        Probe: what a shaded temperature probe reads there. It sees the surfaces around as well as
        the air, so that it is warmer near what is warm. Body: the operative temperature, what a dry
        body of this length would settle at there.
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
    </PlaceTable>
  );
}

/** The gradient of a tall enclosure: every figure at its perches and at the ground, from the top down. */
export function ByHeight({ evaluation }: { evaluation: Evaluation }) {
  const { units } = usePreferences();
  const t = (v: number) => show(v, "temperature", units, 1);
  if (evaluation.heights.length === 0) return null;
  return (
    <PlaceTable
      testId="by-height"
      summary="From the top down"
      label="Figures at each height"
      first="Height"
      heads={["up", "air", "probe", "surface", "body", "UVI"]}
      rows={evaluation.heights.map((h) => (
        <tr key={h.label} className="border-t border-line">
          <th className="py-1 text-left font-normal">
            {h.label}
            {h.thing && <span className="block text-soft">{h.thing}</span>}
          </th>
          <td className="pl-2">{show(h.above_ground_m, "length", units, 0)}</td>
          <td className="pl-2">{t(h.air_c)}</td>
          <td className="pl-2">{t(h.probe_c)}</td>
          <td className="pl-2">{t(h.surface_c)}</td>
          <td className="pl-2">{t(h.operative_c)}</td>
          <td className="pl-2">{fixed(h.uvi_facing, 1)}</td>
        </tr>
      ))}
    >
      <p className="mt-1 text-sm text-soft">
        At the animal's back on its highest perch, on one half way, on the lowest and on the ground;
        without perches, in the air. Surface: of the perch itself. Up: above the ground. UVI: facing
        the light.
      </p>
    </PlaceTable>
  );
}

interface PlaceTableProps {
  testId: string;
  summary: string;
  label: string;
  /** What the lines are; places by default. */
  first?: string;
  heads: readonly string[];
  rows: ReactNode;
  children: ReactNode;
}

/** A table with a line for every place, folded away until it is asked for. */
function PlaceTable({
  testId,
  summary,
  label,
  first = "Place",
  heads,
  rows,
  children,
}: PlaceTableProps) {
  return (
    <details className="border-t border-line px-4 py-2" data-testid={testId}>
      <summary className="min-h-8 py-1 font-semibold">{summary}</summary>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: where it is narrow it scrolls sideways */}
      <section className="overflow-x-auto" aria-label={label} tabIndex={0}>
        <table className="w-full text-right text-sm whitespace-nowrap">
          <thead className="text-soft">
            <tr>
              <th className="text-left font-medium">{first}</th>
              {heads.map((head) => (
                <th key={head} className="pl-2 font-medium">
                  {head}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>{rows}</tbody>
        </table>
      </section>
      {children}
    </details>
  );
}

function exposureName(number: number | null): string {
  if (number === null) return "–";
  return number === 0 ? "free" : number > 4 ? "beyond 4" : String(number);
}
