import type { SpeciesDocument } from "../../api/types";
import { GRID } from "../../ui/grid";
import { type MonthColumn, MonthTable } from "../../ui/MonthTable";
import { NumberField } from "../../ui/NumberField";
import { TextField } from "../../ui/TextField";

type Home = SpeciesDocument["home"];
type Column = "minimum_c" | "maximum_c" | "rain_mm" | "sun_h";

const COLUMNS: readonly MonthColumn<Column>[] = [
  { key: "minimum_c", label: "lowest by night", dimension: "temperature", low: -60, high: 50 },
  { key: "maximum_c", label: "highest by day", dimension: "temperature", low: -50, high: 60 },
  { key: "rain_mm", label: "rain", dimension: "thickness", low: 0, high: 2 },
  { key: "sun_h", label: "sun a day", dimension: "duration", low: 0, high: 24 },
];
/** Rain is in mm in the document; thicknesses are m. */
const CORE: Partial<Record<Column, number>> = { rain_mm: 0.001 };

interface HomeEditorProps {
  home: Home;
  onChange: (home: Home) => void;
}

/** The climate of a place in the range, month by month: what the seasons of the species follow. */
export function HomeEditor({ home, onChange }: HomeEditorProps) {
  return (
    <details className="mt-3 border-t border-line py-2">
      <summary className="min-h-8 cursor-pointer py-1 font-semibold">
        Climate at home, month by month
      </summary>
      <div className={`mt-1 mb-3 ${GRID}`}>
        <TextField
          label="Place in its range"
          value={home.label}
          most={120}
          onCommit={(label) => onChange({ ...home, label })}
        />
        <NumberField
          label="Latitude, south negative"
          dimension="latitude"
          value={home.latitude_deg}
          min={-90}
          max={90}
          onCommit={(latitude_deg) => onChange({ ...home, latitude_deg })}
        />
        <TextField
          label="Where the figures are from"
          value={home.source}
          most={500}
          onCommit={(source) => onChange({ ...home, source })}
        />
      </div>
      <div className="max-w-2xl">
        <MonthTable
          columns={COLUMNS}
          figureOf={(month, key) => (home[key][month] ?? 0) * (CORE[key] ?? 1)}
          onCommit={(month, key, value) =>
            onChange({
              ...home,
              [key]: home[key].map((old, i) => (i === month ? value / (CORE[key] ?? 1) : old)),
            })
          }
        />
      </div>
    </details>
  );
}
