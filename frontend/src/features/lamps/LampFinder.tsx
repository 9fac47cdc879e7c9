import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { findLamps } from "../../api/client";
import type { Curves } from "../../api/types";
import { describe } from "../../app/notices";
import { fixed, show } from "../../domain/units/units";
import { Help } from "../../ui/Help";
import { NumberField } from "../../ui/NumberField";
import { usePreferences } from "../../ui/preferences";
import { STYLES } from "./library";

const ROWS = [0.15, 0.2, 0.25, 0.3, 0.35, 0.4, 0.5, 0.6];

interface HowFarProps {
  curves: Curves;
  uvi: number;
  onUvi: (uvi: number) => void;
}

/** How far away a lamp must be for a UV index. */
export function HowFar({ curves, uvi, onUvi }: HowFarProps) {
  const { units } = usePreferences();
  const digits = units === "metric" ? 0 : 1;
  const far = (m: number | null | undefined) =>
    m === null || m === undefined ? "–" : show(m, "length", units, digits);
  const lamps = curves.lamps.filter((l) => l.aged_bare);
  const screened = curves.lamps.some((l) => l.screened);
  return (
    <section aria-labelledby="how-far" className="rounded-xl border border-line bg-panel p-4">
      <h2 id="how-far" className="font-semibold">
        How far for this UV index?
      </h2>
      <div className="mt-2 max-w-xs">
        <NumberField
          label="UV index wanted"
          dimension="uvi"
          value={uvi}
          min={0.1}
          max={20}
          onCommit={onUvi}
          onPreview={onUvi}
          help={
            <Help about="distance">
              From the lamp down to the animal's back, meter facing the lamp, straight under its
              middle. A prediction until you have measured it.
            </Help>
          }
        />
      </div>
      {lamps.length === 0 ? (
        <p className="mt-3 text-soft">None of the ticked lamps gives UVB.</p>
      ) : (
        <table className="mt-3 w-full text-left" data-testid="how-far">
          <thead className="text-sm text-soft">
            <tr>
              <th className="font-medium">Lamp</th>
              <th className="font-medium">bare</th>
              {screened && <th className="font-medium">through the screen</th>}
              <th className="font-medium">aged{screened ? ", through it" : ""}</th>
            </tr>
          </thead>
          <tbody>
            {curves.lamps.map((l, i) =>
              l.aged_bare ? (
                <tr key={l.lamp_id} className="border-t border-line align-top">
                  <th className="py-1 pr-2 font-normal">
                    <span aria-hidden="true" className={STYLES[i]?.text}>
                      {STYLES[i]?.mark}{" "}
                    </span>
                    {l.label}
                  </th>
                  <td
                    className={`py-1 pr-2 whitespace-nowrap ${screened ? "" : "text-lg font-semibold"}`}
                  >
                    {far(l.bare.distance_for_m)}
                  </td>
                  {screened && (
                    <td className="py-1 text-lg font-semibold">
                      {far(l.screened?.distance_for_m)}
                    </td>
                  )}
                  <td className="py-1 whitespace-nowrap">
                    {far(screened ? l.aged_screened?.distance_for_m : l.aged_bare.distance_for_m)}
                  </td>
                </tr>
              ) : null,
            )}
          </tbody>
        </table>
      )}
      <p className="mt-2 text-sm text-soft">
        – : not between {show(0.05, "length", units, digits)} and{" "}
        {show(1.5, "length", units, digits)}.
      </p>
    </section>
  );
}

interface WhichLampProps {
  band: { low: number; high: number };
  onBand: (band: { low: number; high: number }) => void;
  screenId: string | null;
  measured: number | null;
  chosen: readonly string[];
  onPick: (id: string) => void;
}

/** Which lamps give a UV index at a distance. */
export function WhichLamp({ band, onBand, screenId, measured, chosen, onPick }: WhichLampProps) {
  const { units } = usePreferences();
  const [distance, setDistance] = useState(0.35);
  const [worn, setWorn] = useState(false);
  const { low, high } = band;
  const found = useQuery({
    queryKey: ["curves", "find", low, high, distance, worn, screenId, measured],
    queryFn: ({ signal }) =>
      findLamps({ low, high, distance_m: distance, worn, screen_id: screenId, measured }, signal),
    placeholderData: keepPreviousData,
  });
  return (
    <section aria-labelledby="which-lamp" className="rounded-xl border border-line bg-panel p-4">
      <h2 id="which-lamp" className="font-semibold">
        Which lamp gives it?
      </h2>
      <div className="mt-2 flex flex-wrap gap-x-5 gap-y-2">
        <NumberField
          label="UV index from"
          dimension="uvi"
          value={low}
          min={0.1}
          max={20}
          onCommit={(v) => onBand({ low: v, high: Math.max(v, high) })}
        />
        <NumberField
          label="to"
          dimension="uvi"
          value={high}
          min={0.1}
          max={20}
          onCommit={(v) => onBand({ low: Math.min(v, low), high: v })}
        />
        <NumberField
          label="at a distance of"
          dimension="length"
          value={distance}
          min={0.05}
          max={1.5}
          onCommit={setDistance}
        />
        <label className="flex min-h-9 items-center gap-2 self-end pointer-coarse:min-h-11">
          <input
            type="checkbox"
            checked={worn}
            onChange={(e) => setWorn(e.target.checked)}
            className="size-4 accent-accent"
          />
          at the end of its life
        </label>
      </div>
      {found.isError && <p className="mt-2 text-high">{describe(found.error).detail}</p>}
      {found.data?.length === 0 && (
        <p className="mt-3">
          None does{screenId ? " through this screen" : ""}. Try another distance or a wider range.
        </p>
      )}
      <ul className="mt-2 max-h-64 overflow-y-auto" data-testid="which-lamp">
        {found.data?.map((l) => (
          <li key={l.lamp_id} className="flex items-baseline gap-2 border-t border-line py-1">
            <span className="min-w-0 flex-1">
              {l.label}
              {l.own && <span className="text-sm text-soft"> (own)</span>}
            </span>
            <strong>UVI {fixed(l.uvi, 1)}</strong>
            <button
              type="button"
              disabled={chosen.includes(l.lamp_id)}
              aria-label={`${chosen.includes(l.lamp_id) ? "shown" : "show"}: ${l.label}`}
              className="min-h-8 rounded-md px-2 text-sm font-semibold text-accent hover:bg-wash disabled:text-soft"
              onClick={() => onPick(l.lamp_id)}
            >
              {chosen.includes(l.lamp_id) ? "shown" : "show"}
            </button>
          </li>
        ))}
      </ul>
      <p className="mt-1 text-sm text-soft">
        Straight under its middle, {screenId ? "through the screen" : "no screen"}, at{" "}
        {show(distance, "length", units, units === "metric" ? 0 : 1)}.
      </p>
    </section>
  );
}

interface ReadingsProps {
  curves: Curves;
  screen: string | null;
  read: (ys: readonly number[], d: number) => number;
}

/** The curves as figures: for screen readers, print, and a thermometer in one hand. */
export function Readings({ curves, screen, read }: ReadingsProps) {
  const { units } = usePreferences();
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: on a phone it scrolls sideways
    <section className="overflow-x-auto" aria-label="Readings" tabIndex={0}>
      <table className="w-full text-left whitespace-nowrap" data-testid="readings">
        <caption className="pb-1 text-left text-sm text-soft">
          UV index and irradiance (W/m²) straight under the lamp
          {screen ? `, through: ${screen}` : ", no screen"}
        </caption>
        <thead className="text-sm text-soft">
          <tr>
            <th className="pr-4 font-medium">Lamp</th>
            {ROWS.map((d) => (
              <th key={d} className="px-2 text-right font-medium">
                {show(d, "length", units, units === "metric" ? 0 : 1)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {curves.lamps.map((l, i) => {
            const curve = l.screened ?? l.bare;
            return (
              <tr key={l.lamp_id} className="border-t border-line">
                <th className="py-1 pr-4 font-normal">
                  <span aria-hidden="true" className={STYLES[i]?.text}>
                    {STYLES[i]?.mark}{" "}
                  </span>
                  {l.label}
                </th>
                {ROWS.map((d) => (
                  <td key={d} className="px-2 py-1 text-right">
                    {l.aged_bare && (
                      <strong className="block">{fixed(read(curve.uvi, d), 1)}</strong>
                    )}
                    <span className="text-sm text-soft">
                      {fixed(read(curve.irradiance_w_m2, d), 0)}
                    </span>
                  </td>
                ))}
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}
