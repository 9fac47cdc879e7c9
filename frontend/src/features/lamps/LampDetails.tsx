import { Copy, Download, Pencil, Trash2 } from "lucide-react";
import { Link } from "react-router";
import type { LibraryLamp } from "../../api/types";
import { fixed, show } from "../../domain/units/units";
import { Button } from "../../ui/Button";
import { usePreferences } from "../../ui/preferences";
import { KINDS, STYLES } from "./library";

interface LampDetailsProps {
  lamp: LibraryLamp;
  place: number;
  onEdit: () => void;
  onCopy: () => void;
  onRemove: () => void;
}

const CONTROL: Record<string, string> = {
  dimming: "dimming",
  on_off: "on and off",
  pulse: "pulse",
};

/** Everything known of a lamp, with where each number is from. */
export function LampDetails({ lamp: entry, place, onEdit, onCopy, onRemove }: LampDetailsProps) {
  const { units } = usePreferences();
  const { lamp, document: d } = entry;
  const length = (m: number) => show(m, "length", units, 1);
  const g = d.geometry;
  const shape =
    g.shape === "line"
      ? `line of ${length(g.length_m)}, ${g.reflector_exponent === null ? "all round" : "with reflector"}`
      : g.shape === "beam"
        ? `beam of ${fixed(g.fwhm_deg, 0)}°, ${length(g.diameter_m)} across`
        : g.shape === "panel"
          ? `panel of ${length(g.length_m)} × ${length(g.width_m)}`
          : `measured table, ${length(g.diameter_m)} across`;
  const share = (x: number) => `${fixed(100 * x, 0)} %`;
  const age = d.ageing;
  const rows: { what: string; value: string; source: string | undefined }[] = [
    {
      what: "Power",
      value: (d.power_choices_w ?? []).map((w) => `${fixed(w, 0)} W`).join(", "),
      source: d.sources?.power,
    },
    { what: "Shape", value: shape, source: d.sources?.beam },
    {
      what: "Its watts go",
      value: `${share(d.forward_radiant)} forward, ${share(d.other_radiant)} to the sides as radiation, ${share(1 - d.forward_radiant - d.other_radiant)} into the air`,
      source: d.sources?.split,
    },
    ...(d.gives_light
      ? [
          {
            what: "Light",
            value: `${fixed(d.lumens_per_radiant_watt, 0)} lm a watt of radiation${d.lux_per_ppfd ? `, ${fixed(d.lux_per_ppfd, 0)} lx per µmol/m²/s for plants` : ""}`,
            source: d.sources?.light,
          },
        ]
      : []),
    ...(d.uv
      ? [
          {
            what: "Reference",
            value: `UVI ${fixed(d.uv.uvi, 1)} at ${length(d.uv.distance_m)}, after 100 h, no screen`,
            source: d.sources?.uv,
          },
        ]
      : []),
    ...(age
      ? [
          {
            what: "Ageing",
            value: `UV falls to ${share(age.remaining)}; replaced after about ${fixed(age.life_h, 0)} h`,
            source: d.sources?.ageing,
          },
        ]
      : []),
    {
      what: "Samples differ",
      value: `UV ± ${share(d.spread?.uv ?? 0)}, heat ± ${share(d.spread?.radiant ?? 0)}, beam ± ${share(d.spread?.beam ?? 0)}`,
      source: d.sources?.spread,
    },
    {
      what: "Control",
      value:
        (d.controls ?? []).length > 0
          ? (d.controls ?? []).map((c) => CONTROL[c]).join(", ")
          : "timer only, never dimmed or pulsed",
      source: d.sources?.control,
    },
  ];
  return (
    <section
      aria-labelledby={`lamp-${lamp.id}`}
      className="rounded-xl border border-line bg-panel p-4"
      data-testid={`details-${lamp.id}`}
    >
      <div className="flex flex-wrap items-start gap-2">
        <div className="min-w-0 flex-1">
          <h2 id={`lamp-${lamp.id}`} className="text-lg font-semibold">
            <span aria-hidden="true" className={STYLES[place]?.text}>
              {STYLES[place]?.mark}{" "}
            </span>
            {lamp.label}
          </h2>
          <p className="text-sm text-soft">
            {lamp.own ? "Your own" : "Shipped"}, {KINDS.find((k) => k.value === lamp.kind)?.label}.{" "}
            {d.source}
          </p>
        </div>
        <span className="flex flex-wrap gap-1">
          {lamp.own && (
            <Button size="small" onClick={onEdit}>
              <Pencil size={15} aria-hidden />
              Edit
            </Button>
          )}
          <Button size="small" onClick={onCopy}>
            <Copy size={15} aria-hidden />
            {lamp.own ? "Copy" : "Copy as my own"}
          </Button>
          <a
            href={`/api/lamps/${lamp.id}/export`}
            className="inline-flex min-h-8 items-center gap-1.5 rounded-md border border-edge bg-raised px-2.5 text-sm font-medium hover:bg-wash"
          >
            <Download size={15} aria-hidden />
            Export
          </a>
          {lamp.own && (
            <Button size="small" onClick={onRemove}>
              <Trash2 size={15} aria-hidden />
              Remove
            </Button>
          )}
        </span>
      </div>
      {lamp.unlike_sunlight && (
        <p className="mt-3 border-l-4 border-high bg-high-wash px-3 py-2 text-sm">
          <strong>Caution. </strong>
          {fixed(100 * lamp.below_290_share, 1)} % of its UV index comes from below 290 nm, which
          sunlight does not hold. It can burn eyes and skin at a UV index that looks harmless: do
          not use it over animals.
        </p>
      )}
      <dl className="mt-3 grid gap-x-4 gap-y-2 sm:grid-cols-[8rem_1fr]">
        {rows.map((row) => (
          <div key={row.what} className="contents">
            <dt className="text-sm text-soft">{row.what}</dt>
            <dd>
              {row.value}
              {row.source && <span className="block text-sm text-soft">{row.source}</span>}
            </dd>
          </div>
        ))}
        <dt className="text-sm text-soft">Used in</dt>
        <dd>
          {entry.used_in.length === 0
            ? "no enclosure"
            : entry.used_in.map((use) => (
                <span key={use.plan_id} className="block">
                  <Link
                    to={`/plans/${use.plan_id}`}
                    className="inline-flex min-h-6 items-center font-medium text-accent underline"
                  >
                    {use.name}
                  </Link>
                  <span className="text-sm text-soft"> as {use.fixtures.join(", ")}</span>
                </span>
              ))}
        </dd>
      </dl>
    </section>
  );
}
