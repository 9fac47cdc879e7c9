import { useMutation } from "@tanstack/react-query";
import { readLampFile } from "../../api/client";
import { describe } from "../../app/notices";
import { fixed } from "../../domain/units/units";
import { FileButton } from "../../ui/FileButton";
import { Help } from "../../ui/Help";
import type { PartProps } from "./parts";

/** A spectrum file: its energy below 290 nm, and the UV index if it was measured in W/m²/nm. */
export function SpectrumFile({ document: d, onChange }: PartProps) {
  const read = useMutation({
    mutationFn: async (file: File) => {
      const result = await readLampFile(file.name, await file.text());
      if (!result.spectrum) throw new Error("This file holds no spectrum; a CSV is wanted here.");
      return { ...result, spectrum: result.spectrum };
    },
    onSuccess: ({ spectrum }) => onChange({ below_290_share: spectrum.below_290_share }),
  });
  const s = read.data?.spectrum;
  return (
    <div className="mt-3 rounded-lg border border-line p-3">
      <div className="flex items-center gap-1">
        <h3 className="flex-1 text-sm font-semibold">Its spectrum</h3>
        <Help about="spectrum">
          A CSV of two columns: wavelength in nm, and irradiance in W/m²/nm or any other unit.
        </Help>
        <FileButton
          label="Spectrum file"
          accept=".csv,.txt,.tsv"
          testId="spectrum-file"
          size="small"
          disabled={read.isPending}
          onFile={(file) => read.mutate(file)}
        >
          Read a spectrum
        </FileButton>
      </div>
      {read.isError && (
        <p role="alert" className="mt-2 text-sm text-high">
          {describe(read.error).detail}
        </p>
      )}
      {s && read.data && (
        <div className="mt-2 text-sm" data-testid="spectrum-result">
          <p>
            {s.rows} rows, {fixed(s.low_nm, 0)} to {fixed(s.high_nm, 0)} nm. UV that makes vitamin
            D₃ to UV that reddens skin: <strong>{fixed(s.d3_ratio, 2)}</strong>. If it is in
            W/m²/nm: UV index <strong>{fixed(s.uvi, 1)}</strong>, D₃-effective{" "}
            {fixed(1000 * s.d3_effective_w_m2, 1)} mW/m² where it was measured.{" "}
            <button
              type="button"
              className="font-semibold text-accent underline"
              onClick={() =>
                d.uv && onChange({ uv: { ...d.uv, uvi: Number(s.uvi.toPrecision(4)) } })
              }
            >
              Use that UV index
            </button>
          </p>
          {s.unlike_sunlight && (
            <p className="mt-2 border-l-4 border-high bg-high-wash px-3 py-2">
              <strong>Caution. </strong>
              {fixed(100 * s.below_290_share, 1)} % of its UV index comes from below 290 nm, which
              sunlight does not hold: do not use it over animals.
            </p>
          )}
          {read.data.notes.map((note) => (
            <p key={note} className="mt-1 text-soft">
              {note}
            </p>
          ))}
        </div>
      )}
    </div>
  );
}
