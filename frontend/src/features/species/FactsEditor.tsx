import type { SpeciesDocument } from "../../api/types";
import { GRID } from "../../ui/grid";
import { NumberField } from "../../ui/NumberField";
import { NumberFields, type NumberRow } from "../../ui/NumberFields";
import { SelectField } from "../../ui/SelectField";
import { TextField } from "../../ui/TextField";

interface FactsEditorProps {
  document: SpeciesDocument;
  onChange: (next: SpeciesDocument) => void;
}

const DIETS: readonly NonNullable<SpeciesDocument["diet"]>[] = [
  "insects",
  "plants",
  "plants and insects",
  "fruit and insects",
  "rodents",
  "water animals",
  "litter",
];

const DANGER_ROWS: readonly NumberRow<SpeciesDocument>[] = [
  {
    key: "lowest_safe_c",
    label: "In danger below",
    dimension: "temperature",
    min: -10,
    max: 30,
  },
  {
    key: "highest_safe_c",
    label: "In danger above",
    dimension: "temperature",
    min: 15,
    max: 60,
  },
];
const SIDE = { dimension: "length", min: 0.1, max: 10 } as const;
const SIZE_ROWS: readonly NumberRow<SpeciesDocument["enclosure"]>[] = [
  { key: "length_m", label: "Enclosure, long", ...SIDE },
  { key: "depth_m", label: "Enclosure, deep", ...SIDE },
  { key: "height_m", label: "Enclosure, high", ...SIDE },
];

/** Names, sizes and limits of a species of the keeper's own. */
export function FactsEditor({ document: d, onChange }: FactsEditorProps) {
  const put = (change: Partial<SpeciesDocument>) => onChange({ ...d, ...change });
  const stage = (i: number, change: Partial<SpeciesDocument["stages"][number]>) =>
    put({ stages: d.stages.map((s, k) => (k === i ? { ...s, ...change } : s)) });
  return (
    <div className={`mt-3 ${GRID}`}>
      <TextField
        label="Scientific name"
        value={d.scientific_name}
        most={120}
        onCommit={(scientific_name) => put({ scientific_name })}
      />
      <TextField
        label="Common names, with commas between"
        value={d.common_names.join(", ")}
        most={400}
        onCommit={(text) =>
          put({
            common_names: text
              .split(",")
              .map((n) => n.trim())
              .filter(Boolean)
              .slice(0, 12),
          })
        }
      />
      <TextField
        label="Way of life"
        value={d.way_of_life}
        most={500}
        onCommit={(way_of_life) => put({ way_of_life })}
      />
      <SelectField
        label="Lives"
        value={d.habits[0] ?? "ground"}
        options={["ground", "climbing", "digging", "half aquatic", "aquatic"].map((h) => ({
          value: h,
          label: h,
        }))}
        onChange={(h) => put({ habits: [h as SpeciesDocument["habits"][number]] })}
      />
      <SelectField
        label="Active"
        value={d.active}
        options={[
          { value: "day", label: "by day" },
          { value: "night", label: "by night" },
          { value: "twilight", label: "at dusk and dawn" },
        ]}
        onChange={(active) => put({ active: active as SpeciesDocument["active"] })}
      />
      <SelectField
        label="Eats"
        value={d.diet ?? ""}
        options={[{ value: "", label: "not said" }, ...DIETS.map((x) => ({ value: x, label: x }))]}
        onChange={(diet) => put({ diet: (diet || null) as SpeciesDocument["diet"] })}
      />
      <SelectField
        label="Class of exposure"
        value={String(d.exposure_class)}
        options={[
          { value: "1", label: "1, dusk and shade" },
          { value: "2", label: "2, part sun" },
          { value: "3", label: "3, open or part sun" },
          { value: "4", label: "4, mid-day sun" },
        ]}
        onChange={(n) =>
          put({ exposure_class: Number(n), exposure_source: "the keeper's own assessment" })
        }
      />
      {d.stages.map((s, i) => (
        <NumberField
          key={s.id}
          label={`Body of the ${s.id}`}
          dimension="length"
          value={s.body_length_m}
          min={0.005}
          max={4}
          onCommit={(body_length_m) => stage(i, { body_length_m })}
        />
      ))}
      {d.stages.map((s, i) => (
        <NumberField
          key={s.id}
          label={`Back of the ${s.id}`}
          dimension="length"
          value={s.back_height_m}
          min={0.002}
          max={1}
          onCommit={(back_height_m) => stage(i, { back_height_m })}
        />
      ))}
      <NumberFields rows={DANGER_ROWS} of={d} onCommit={put} />
      <NumberFields
        rows={SIZE_ROWS}
        of={d.enclosure}
        onCommit={(part) => put({ enclosure: { ...d.enclosure, ...part } })}
      />
    </div>
  );
}
