import { Trash2 } from "lucide-react";
import type { Evaluation, PlanDocument } from "../../api/types";
import type { StageEdits } from "../../canvas/edits";
import {
  beadOf,
  beadsDiffer,
  pinKey,
  pinsOf,
  withBead,
  withoutPin,
  withPin,
} from "../../domain/plan/pins";
import { fixed, show, unitFormat } from "../../domain/units/units";
import { IconButton } from "../../ui/Button";
import { Help } from "../../ui/Help";
import { NumberField } from "../../ui/NumberField";
import { usePreferences } from "../../ui/preferences";

interface PinTableProps {
  document: PlanDocument;
  evaluation: Evaluation | null;
  edits: StageEdits;
  onSelect: (key: string) => void;
}

/** All quantities at the pinned places; they follow every change of the plan. */
export function PinTable({ document: d, evaluation, edits, onSelect }: PinTableProps) {
  const { units } = usePreferences();
  if (pinsOf(d).length === 0) return null;
  const t = unitFormat(units, "temperature");
  const degrees = (c: number | null | undefined) =>
    c === null || c === undefined ? "–" : `${fixed(t.toShown(c), 1)} ${t.suffix}`;
  const number = (v: number | null | undefined, digits: number) =>
    v === null || v === undefined ? "–" : fixed(v, digits);
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: where it is narrow it scrolls sideways
    <section className="overflow-x-auto px-3 pb-2" aria-label="Pinned places" tabIndex={0}>
      <table
        className="w-full text-sm [&_td]:pl-2.5 [&_th]:pl-2.5 [&_th]:align-bottom"
        data-testid="pins"
      >
        <thead>
          <tr className="text-left text-soft">
            <th className="font-medium">Pinned place</th>
            <th className="text-right font-medium">UVI facing</th>
            <th className="text-right font-medium">level</th>
            <th className="text-right font-medium">Air</th>
            <th className="text-right font-medium">Probe, shaded</th>
            <th className="text-right font-medium">in the light</th>
            <th className="text-right font-medium">Surface below</th>
            <th className="text-right font-medium">Body</th>
            <th className="text-right font-medium">Humidity</th>
            <th className="text-right font-medium">Radiant heat</th>
            <th className="text-right font-medium">Light</th>
            <th>
              <span className="sr-only">Remove</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {pinsOf(d).map((pin) => {
            const f = evaluation?.pins.find((one) => one.id === pin.id);
            const { x_m: x, y_m: y, z_m: z } = pin.at_m;
            const where = [x, y, z].map((m) => show(m, "length", units)).join(", ");
            return (
              <tr key={pin.id} className="border-t border-line">
                <td className="py-1">
                  <input
                    key={pin.label}
                    type="text"
                    aria-label={`Name of ${pin.label}, at ${where}`}
                    defaultValue={pin.label}
                    maxLength={80}
                    className="h-8 w-36 rounded border border-transparent bg-transparent px-1 font-semibold hover:border-edge focus:border-edge focus:bg-raised"
                    onFocus={() => onSelect(pinKey(pin.id))}
                    onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
                    onBlur={(e) => {
                      const label = e.currentTarget.value.trim();
                      if (!label) e.currentTarget.value = pin.label;
                      else if (label !== pin.label) {
                        edits.commit(
                          withPin(d, { ...pin, label }),
                          `${pin.label} named ${label}`.slice(0, 200),
                        );
                      }
                    }}
                  />
                </td>
                <td className="text-right">{number(f?.uvi_facing, 1)}</td>
                <td className="text-right">{number(f?.uvi_level, 1)}</td>
                <td className="text-right whitespace-nowrap">{degrees(f?.air_c)}</td>
                <td className="text-right whitespace-nowrap">{degrees(f?.probe_c)}</td>
                <td className="text-right whitespace-nowrap">{degrees(f?.probe_in_beam_c)}</td>
                <td className="text-right whitespace-nowrap">{degrees(f?.surface_c)}</td>
                <td className="text-right whitespace-nowrap">{degrees(f?.operative_c)}</td>
                <td className="text-right whitespace-nowrap">
                  {f?.relative_humidity == null ? "–" : `${fixed(100 * f.relative_humidity, 0)} %`}
                </td>
                <td className="text-right whitespace-nowrap">
                  {f?.irradiance_w_m2 == null ? "–" : `${fixed(f.irradiance_w_m2, 0)} W/m²`}
                </td>
                <td className="text-right whitespace-nowrap">
                  {f?.illuminance_lx == null ? "–" : `${fixed(f.illuminance_lx, 0)} lx`}
                </td>
                <td className="w-10 text-right">
                  <IconButton
                    label={`Remove ${pin.label}`}
                    onClick={() => edits.commit(withoutPin(d, pin.id), `${pin.label} removed`)}
                  >
                    <Trash2 size={16} aria-hidden />
                  </IconButton>
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <div className="mt-2 w-52">
        <NumberField
          label={
            beadsDiffer(d) ? "Thickness of the first place's probe" : "Thickness of your probe"
          }
          value={beadOf(d)}
          dimension="thickness"
          min={0.0005}
          max={0.05}
          onCommit={(bead) =>
            edits.commit(
              withBead(d, bead),
              `Probe at the pinned places ${show(bead, "thickness", units)}`,
            )
          }
          help={
            <Help about="the thickness of the probe">
              A thick probe follows the air less and what is around it more, and lamps warm it more.
              Its readings, shaded and in the light, are given for this thickness.
            </Help>
          }
        />
      </div>
    </section>
  );
}
