import type { SpeciesDocument, StageName } from "../../api/types";
import { CheckField } from "../../ui/CheckField";
import { GRID } from "../../ui/grid";
import { NumberFields, type NumberRow } from "../../ui/NumberFields";
import { STAGE } from "./schools";

type Stage = SpeciesDocument["stages"][number];
type Enclosure = NonNullable<Stage["enclosure"]>;
type HabitName = SpeciesDocument["habits"][number];

const HABIT: Record<HabitName, string> = {
  ground: "on the ground",
  climbing: "climbing",
  digging: "digging",
  "half aquatic": "half in water",
  aquatic: "in water",
};
const HABITS = Object.keys(HABIT) as HabitName[];

interface HabitChoiceProps {
  habits: readonly HabitName[];
  onChange: (habits: HabitName[]) => void;
}

/** Where an animal lives: at least one of these. */
export function HabitChoice({ habits, onChange }: HabitChoiceProps) {
  return (
    <fieldset className="min-w-0">
      <legend className="text-sm text-soft">Lives</legend>
      {HABITS.map((habit) => (
        <CheckField
          key={habit}
          label={HABIT[habit]}
          checked={habits.includes(habit)}
          onChange={(on) => {
            const next = HABITS.filter((h) => (h === habit ? on : habits.includes(h)));
            if (next.length > 0) onChange(next);
          }}
        />
      ))}
    </fieldset>
  );
}

const SIDE = { dimension: "length", min: 0.1, max: 10 } as const;
const SIZE_ROWS: readonly NumberRow<Enclosure>[] = [
  { key: "length_m", label: "Its enclosure, long", ...SIDE },
  { key: "depth_m", label: "Its enclosure, deep", ...SIDE },
  { key: "height_m", label: "Its enclosure, high", ...SIDE },
];

const BODY_ROWS: readonly NumberRow<Stage>[] = [
  { key: "body_length_m", label: "Length of its body", dimension: "length", min: 0.005, max: 4 },
  { key: "back_height_m", label: "Height of its back", dimension: "length", min: 0.002, max: 1 },
];

type OtherStage = Exclude<StageName, "adult">;
const OTHER_STAGES = Object.keys(STAGE).filter((id): id is OtherStage => id !== "adult");
/** How long a stage usually is against the adult, to start from. */
const SMALLER: Record<OtherStage, number> = {
  young: 0.4,
  hatchling: 0.3,
  gravid: 1,
  larva: 0.3,
  aquatic: 1,
  land: 0.7,
};

interface StagesEditorProps {
  document: SpeciesDocument;
  onChange: (change: Partial<SpeciesDocument>) => void;
}

/** The stages of life of an own species: size, way of life and least enclosure of each. */
export function StagesEditor({ document: d, onChange }: StagesEditorProps) {
  const adult = d.stages[0];
  if (!adult) return null;
  const put = (i: number, change: Partial<Stage>) =>
    onChange({ stages: d.stages.map((s, k) => (k === i ? { ...s, ...change } : s)) });
  return (
    <fieldset className="mt-3 min-w-0 border-t border-line py-2">
      <legend className="pr-2 font-semibold">Stages of life</legend>
      <div className="flex flex-wrap gap-x-5">
        {OTHER_STAGES.map((id) => (
          <CheckField
            key={id}
            label={STAGE[id]}
            checked={d.stages.some((s) => s.id === id)}
            onChange={(on) =>
              onChange({
                stages: on
                  ? [
                      ...d.stages,
                      {
                        id,
                        body_length_m: adult.body_length_m * SMALLER[id],
                        back_height_m: adult.back_height_m * SMALLER[id],
                        habits: id === "larva" || id === "aquatic" ? ["aquatic"] : [],
                        enclosure: null,
                      },
                    ]
                  : d.stages.filter((s) => s.id !== id),
              })
            }
          />
        ))}
      </div>
      {d.stages.map((s, i) => (
        <section key={s.id} aria-label={STAGE[s.id]} className="border-t border-line py-2">
          <h3 className="font-semibold">{STAGE[s.id]}</h3>
          <div className={GRID}>
            <NumberFields rows={BODY_ROWS} of={s} onCommit={(part) => put(i, part)} />
            {i > 0 && <StageWays stage={s} document={d} onChange={(change) => put(i, change)} />}
          </div>
        </section>
      ))}
    </fieldset>
  );
}

interface StageWaysProps {
  stage: Stage;
  document: SpeciesDocument;
  onChange: (change: Partial<Stage>) => void;
}

/** Where a stage lives if not where the adult does, and in how much room. */
function StageWays({ stage, document: d, onChange }: StageWaysProps) {
  const habits = stage.habits ?? [];
  return (
    <>
      <CheckField
        label="Lives where the adult does"
        checked={habits.length === 0}
        onChange={(on) => onChange({ habits: on ? [] : [...d.habits] })}
      />
      {habits.length > 0 && (
        <HabitChoice habits={habits} onChange={(next) => onChange({ habits: next })} />
      )}
      <CheckField
        label="Enclosure by its size"
        checked={!stage.enclosure}
        onChange={(on) =>
          onChange({
            enclosure: on
              ? null
              : {
                  ...d.enclosure,
                  grade: "keepers' consensus",
                  source: "the keeper's own experience",
                },
          })
        }
      />
      {stage.enclosure && (
        <NumberFields
          rows={SIZE_ROWS}
          of={stage.enclosure}
          onCommit={(part) =>
            stage.enclosure && onChange({ enclosure: { ...stage.enclosure, ...part } })
          }
        />
      )}
    </>
  );
}
