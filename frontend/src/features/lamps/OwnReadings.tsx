import { useMutation } from "@tanstack/react-query";
import { Plus, X } from "lucide-react";
import { fitLamp } from "../../api/client";
import type { LampFit } from "../../api/types";
import { describe } from "../../app/notices";
import { fixed, show } from "../../domain/units/units";
import { Button, IconButton } from "../../ui/Button";
import { Help } from "../../ui/Help";
import { NumberField } from "../../ui/NumberField";
import { usePreferences } from "../../ui/preferences";
import type { PartProps } from "./parts";

/** Readings under the lamp at several distances, and the strength that suits them. */
export function OwnReadings({ document: d, onChange }: PartProps) {
  const { units } = usePreferences();
  const readings = d.readings ?? [];
  const put = (next: typeof readings) => onChange({ readings: next });
  const fit = useMutation({
    mutationFn: () => fitLamp({ geometry: d.geometry, readings }),
    onSuccess: (found) =>
      onChange({
        uv: {
          uvi: Number(found.uvi.toPrecision(4)),
          distance_m: Number(found.distance_m.toFixed(3)),
        },
        sources: {
          ...d.sources,
          uv: `fitted to ${readings.length} readings of your own, misfit ${fixed(100 * found.misfit, 0)} %`,
        },
      }),
  });
  return (
    <div className="mt-3 rounded-lg border border-line p-3">
      <div className="flex items-center gap-1">
        <h3 className="flex-1 text-sm font-semibold">My readings</h3>
        <Help about="readings">
          Meter straight under the lamp's middle, facing it, no screen between, lamp on for half an
          hour. Two or more distances tell whether lamp and readings agree.
        </Help>
        <Button
          size="small"
          onClick={() => put([...readings, { distance_m: 0.3, uvi: d.uv?.uvi ?? 3 }])}
        >
          <Plus size={15} aria-hidden />
          Add a reading
        </Button>
      </div>
      <ul>
        {readings.map((r, i) => (
          <li key={i} className="mt-2 flex items-end gap-3">
            <NumberField
              label={`Distance ${i + 1}`}
              dimension="length"
              value={r.distance_m}
              min={0.02}
              max={5}
              onCommit={(distance_m) =>
                put(readings.map((old, k) => (k === i ? { ...old, distance_m } : old)))
              }
            />
            <NumberField
              label={`UV index ${i + 1}`}
              dimension="uvi"
              value={r.uvi}
              min={0.01}
              max={500}
              onCommit={(uvi) => put(readings.map((old, k) => (k === i ? { ...old, uvi } : old)))}
            />
            {fit.data?.deviations[i] !== undefined &&
              fit.data.deviations.length === readings.length && (
                <span className="pb-2 text-sm text-soft">
                  {fit.data.deviations[i] >= 0 ? "+" : "−"}
                  {fixed(100 * Math.abs(fit.data.deviations[i]), 0)} %
                </span>
              )}
            <IconButton
              label={`Remove reading ${i + 1}`}
              onClick={() => put(readings.filter((_, k) => k !== i))}
            >
              <X size={16} aria-hidden />
            </IconButton>
          </li>
        ))}
      </ul>
      {readings.length >= 2 && (
        <Button
          size="small"
          tone="strong"
          className="mt-3"
          disabled={fit.isPending}
          onClick={() => fit.mutate()}
        >
          Fit the lamp to them
        </Button>
      )}
      {fit.isError && (
        <p role="alert" className="mt-2 text-sm text-high">
          {describe(fit.error).detail}
        </p>
      )}
      {fit.data && (
        <FitQuality
          fit={fit.data}
          what={d.geometry.shape === "line" ? "length" : "width"}
          size={(m) => show(m, "length", units, 0)}
        />
      )}
    </div>
  );
}

function FitQuality({
  fit,
  what,
  size,
}: {
  fit: LampFit;
  what: string;
  size: (m: number) => string;
}) {
  const percent = `${fixed(100 * fit.misfit, 0)} %`;
  const fall = `Between your nearest and farthest reading UV falls like 1/d to the power ${fixed(fit.fall_off, 2)}; this lamp's shape gives ${fixed(fit.fall_off_expected, 2)}.`;
  return (
    <p
      role="status"
      data-testid="fit-check"
      className={`mt-3 border-l-4 px-3 py-2 text-sm ${fit.quality === "good" ? "border-fit bg-fit-wash" : "border-high bg-high-wash"}`}
    >
      {fit.quality === "good" && (
        <>
          <strong>Lamp and readings agree</strong> within {percent}. {fall}
        </>
      )}
      {fit.quality === "other_size" && (
        <>
          <strong>They do not fit this lamp</strong> (misfit {percent}). {fall} A {what} of{" "}
          {size(fit.other_size_m ?? 0)} would suit them better: check it, and that distances are
          from the lamp itself.
        </>
      )}
      {fit.quality === "impossible" && (
        <>
          <strong>No lamp of this kind gives these readings</strong> (misfit {percent}). {fall}{" "}
          Check the distances, that nothing was in between, and that the meter faced the lamp.
        </>
      )}
    </p>
  );
}
