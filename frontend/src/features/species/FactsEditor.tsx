import type { SpeciesDocument } from "../../api/types";
import { CheckField } from "../../ui/CheckField";
import { GRID } from "../../ui/grid";
import { NumberField } from "../../ui/NumberField";
import { NumberFields, type NumberRow } from "../../ui/NumberFields";
import { SelectField } from "../../ui/SelectField";
import { TextField } from "../../ui/TextField";
import { HomeEditor } from "./HomeEditor";
import { LAYING, LAYING_PLACES } from "./laying";
import { HabitChoice, StagesEditor } from "./StagesEditor";

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

const GROUPS: readonly SpeciesDocument["group"][] = [
  "lizard",
  "gecko",
  "snake",
  "tortoise",
  "turtle",
  "frog",
  "salamander",
  "invertebrate",
];
const LAMPS = { heat: "Lamps for heat are", uv: "Lamps for UV are", light: "Lamps for light are" };
const WANTED = ["needed", "offered", "avoided"] as const;
const REST: NonNullable<SpeciesDocument["brumation"]> = {
  weeks: 8,
  low_c: 8,
  high_c: 14,
  grade: "keepers' consensus",
  source: "the keeper's own experience",
};
const REST_ROWS: readonly NumberRow<typeof REST>[] = [
  { key: "weeks", label: "Winter rest", dimension: "weeks", min: 1, max: 40 },
  { key: "low_c", label: "Rest, not below", dimension: "temperature", min: 0, max: 25 },
  { key: "high_c", label: "Rest, not above", dimension: "temperature", min: 1, max: 30 },
];

const COMPANY = [
  ["alone", "kept alone"],
  ["pairs", "alone or as a pair"],
  ["one male", "one male with females"],
  ["females", "females only"],
  ["groups", "groups get on"],
] as const;

/** Pieces of a line with a mark between them. */
const split = (text: string, mark: string, most: number): string[] =>
  text
    .split(mark)
    .map((piece) => piece.trim())
    .filter(Boolean)
    .slice(0, most);
const listed = (text: string, most: number): string[] => split(text, ",", most);

/** Names, sizes and limits of a species of the keeper's own. */
export function FactsEditor({ document: d, onChange }: FactsEditorProps) {
  const put = (change: Partial<SpeciesDocument>) => onChange({ ...d, ...change });
  return (
    <>
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
          onCommit={(text) => put({ common_names: listed(text, 12) })}
        />
        <TextField
          label="Everyday names it is found by, with commas between"
          value={(d.everyday_names ?? []).join(", ")}
          most={400}
          onCommit={(text) => put({ everyday_names: listed(text, 20) })}
        />
        <TextField
          label="Way of life"
          value={d.way_of_life}
          most={500}
          onCommit={(way_of_life) => put({ way_of_life })}
        />
        <TextField
          label="Former names, with commas between"
          value={(d.synonyms ?? []).join(", ")}
          most={400}
          onCommit={(text) => put({ synonyms: listed(text, 12) })}
        />
        <SelectField
          label="Kind of animal"
          value={d.group}
          options={GROUPS.map((value) => ({ value, label: value }))}
          onChange={(group) => put({ group: group as SpeciesDocument["group"] })}
        />
        <HabitChoice habits={d.habits} onChange={(habits) => put({ habits })} />
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
          options={[
            { value: "", label: "not said" },
            ...DIETS.map((x) => ({ value: x, label: x })),
          ]}
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
        <TextField
          label="Food, in a sentence"
          value={d.food ?? ""}
          most={500}
          onCommit={(food) => put({ food })}
        />
        <SelectField
          label="Company"
          value={d.company?.rule ?? "alone"}
          options={COMPANY.map(([value, label]) => ({ value, label }))}
          onChange={(rule) =>
            put({
              company: {
                rule: rule as NonNullable<SpeciesDocument["company"]>["rule"],
                grade: "keepers' consensus",
                source: d.company?.source ?? "the keeper's own experience",
                season: d.company?.season ?? false,
              },
            })
          }
        />
        <NumberField
          label="Ground it digs in, at least"
          dimension="length"
          value={d.ground?.depth_m ?? 0.05}
          min={0.01}
          max={2}
          onCommit={(depth_m) =>
            put({
              ground: {
                depth_m,
                mix: d.ground?.mix ?? "Loose soil",
                grade: "keepers' consensus",
                source: d.ground?.source ?? "the keeper's own experience",
              },
            })
          }
        />
        <SelectField
          label="Gravid females lay"
          value={d.laying?.place ?? ""}
          options={[
            { value: "", label: "not said" },
            ...LAYING_PLACES.map((value) => ({ value, label: LAYING[value] })),
          ]}
          onChange={(place) =>
            put({
              laying: place
                ? {
                    place: place as NonNullable<SpeciesDocument["laying"]>["place"],
                    depth_m: place === "ground" ? (d.stages[0]?.body_length_m ?? 0.1) : 0,
                    grade: "keepers' consensus",
                    source: "the keeper's own experience",
                  }
                : null,
            })
          }
        />
        {d.laying?.place === "ground" && (
          <NumberField
            label="Depth of her nest"
            dimension="length"
            value={d.laying.depth_m ?? 0.1}
            min={0.01}
            max={1}
            onCommit={(depth_m) => d.laying && put({ laying: { ...d.laying, depth_m } })}
          />
        )}
        <CheckField
          label="Wants hides that touch its back"
          checked={d.likes_contact ?? false}
          onChange={(likes_contact) => put({ likes_contact })}
        />
        <NumberField
          label="Hottest surface it may reach"
          dimension="temperature"
          value={d.ceiling_c ?? d.highest_safe_c}
          min={10}
          max={70}
          onCommit={(ceiling_c) =>
            put({ ceiling_c, ceiling_source: "the keeper's own assessment" })
          }
        />
        {(["heat", "uv", "light"] as const).map((what) => (
          <SelectField
            key={what}
            label={LAMPS[what]}
            value={d[what]}
            options={WANTED.map((value) => ({ value, label: value }))}
            onChange={(value) => put({ [what]: value })}
          />
        ))}
        <SelectField
          label="UV is given as"
          value={d.uv_school}
          options={[
            { value: "sunbeam", label: "a bright patch to bask in" },
            { value: "shade", label: "a low level with shade" },
            { value: "none", label: "none" },
          ]}
          onChange={(uv_school) => put({ uv_school: uv_school as SpeciesDocument["uv_school"] })}
        />
        <TextField
          label="Why UV is given so"
          value={d.uv_reason}
          most={500}
          onCommit={(uv_reason) => put({ uv_reason })}
        />
        <NumberField
          label="Harmful UV index"
          dimension="uvi"
          value={d.most_uvi ?? 8}
          min={0.5}
          max={12}
          onCommit={(most_uvi) => put({ most_uvi })}
        />
        <TextField
          label="Cautions, with semicolons between"
          value={(d.hazards ?? []).join("; ")}
          most={1000}
          onCommit={(text) => put({ hazards: split(text, ";", 10) })}
        />
        <TextField
          label="What a beginner should know first"
          value={(d.hints ?? []).map((h) => h.text).join("; ")}
          most={1000}
          onCommit={(text) =>
            put({
              hints: split(text, ";", 10).map((words, i) => ({
                kind: d.hints?.[i]?.kind ?? "difficult",
                text: words,
              })),
            })
          }
        />
        <TextField
          label="What its ground is made of"
          value={d.ground?.mix ?? ""}
          most={500}
          onCommit={(mix) =>
            put({
              ground: {
                depth_m: d.ground?.depth_m ?? 0.05,
                mix: mix || "Loose soil",
                grade: "keepers' consensus",
                source: d.ground?.source ?? "the keeper's own experience",
              },
            })
          }
        />
        <CheckField
          label="Takes a winter rest"
          checked={Boolean(d.brumation)}
          onChange={(on) => put({ brumation: on ? REST : null })}
        />
        {d.brumation && (
          <NumberFields
            rows={REST_ROWS}
            of={d.brumation}
            onCommit={(part) => put({ brumation: { ...REST, ...d.brumation, ...part } })}
          />
        )}
        <NumberFields rows={DANGER_ROWS} of={d} onCommit={put} />
        <NumberFields
          rows={SIZE_ROWS}
          of={d.enclosure}
          onCommit={(part) => put({ enclosure: { ...d.enclosure, ...part } })}
        />
      </div>
      <StagesEditor document={d} onChange={put} />
      <HomeEditor home={d.home} onChange={(home) => put({ home })} />
    </>
  );
}
