import { Plus } from "lucide-react";
import { useState } from "react";
import { putAnimal, removeAnimal } from "../../api/keeping";
import type { Animal, Catalog, KnownAnimal, PlanSummary } from "../../api/types";
import { useNotify } from "../../app/notices";
import { useQueuedMutation } from "../../app/useQueuedMutation";
import { dayText, isoDay } from "../../domain/logbook/days";
import { freshId } from "../../domain/readings/kinds";
import { show } from "../../domain/units/units";
import { Button } from "../../ui/Button";
import { DialogButtons } from "../../ui/DialogButtons";
import { DayField, LineField, NoteField } from "../../ui/fields";
import { Panel } from "../../ui/Panel";
import { usePreferences } from "../../ui/preferences";
import { SelectField } from "../../ui/SelectField";
import { WeightSparkline } from "./WeightSparkline";

interface AnimalsPanelProps {
  animals: readonly KnownAnimal[];
  plans: readonly PlanSummary[];
  catalog: Catalog | null;
  chosen: string;
  onChoose: (animalId: string) => void;
}

const SEXES = [
  { value: "unknown", label: "Not known" },
  { value: "female", label: "Female" },
  { value: "male", label: "Male" },
] as const;

/** Kind and enclosure of an animal; an enclosure's name that says the kind already says it alone. */
function describeRole(kind: string, enclosure: string): string {
  const short = kind.toLowerCase().split(" ").slice(-2).join(" ");
  return enclosure.toLowerCase().includes(short) ? enclosure : `${kind}, ${enclosure}`;
}

/** The animals, one by one: where each lives, how its weight goes, and what that says. */
export function AnimalsPanel({ animals, plans, catalog, chosen, onChoose }: AnimalsPanelProps) {
  const { units } = usePreferences();
  const [edited, setEdited] = useState<Animal | null>(null);
  const add = () => {
    const empty = plans.find((p) => animals.every((a) => a.animal.plan_id !== p.id)) ?? plans[0];
    setEdited({
      id: freshId(),
      name: "",
      plan_id: empty?.id ?? null,
      species_id: empty?.document.animal.species_id ?? catalog?.species[0]?.id ?? "",
      sex: "unknown",
      hatched_on: null,
      came_on: isoDay(),
      left_on: null,
      note: "",
    });
  };
  return (
    <section aria-label="Animals" className="rounded-xl border border-line bg-panel p-4">
      <div className="flex items-center justify-between gap-2">
        <h2 className="text-lg font-semibold">Animals</h2>
        <Button size="small" onClick={add} disabled={!catalog}>
          <Plus size={16} aria-hidden /> Add one
        </Button>
      </div>
      {animals.length === 0 && (
        <p className="mt-1 text-sm text-soft">
          Add each animal by name: its weights, meals and sheds are then recorded separately.
        </p>
      )}
      <ul className="mt-1 divide-y divide-line">
        {animals.map(({ animal, weights, lengths, trend }) => {
          const enclosure = plans.find((p) => p.id === animal.plan_id);
          const species = catalog?.species.find((s) => s.id === animal.species_id);
          const kind = species?.common_name ?? animal.species_id;
          const open = chosen === animal.id;
          const last = weights.at(-1);
          const worry = trend.id === "losing" || trend.id === "falling";
          return (
            <li key={animal.id} className="py-2" data-testid={`animal-${animal.id}`}>
              <div className="flex items-start gap-2">
                <button
                  type="button"
                  aria-pressed={open}
                  onClick={() => onChoose(open ? "" : animal.id)}
                  className="min-h-11 min-w-0 flex-1 rounded px-1 text-left hover:bg-wash aria-pressed:bg-wash"
                >
                  <strong>{animal.name}</strong>
                  {last && <span> · {show(last.value, "mass", units)}</span>}
                  <span className="block text-sm text-soft">
                    {animal.left_on
                      ? `${kind}, left on ${dayText(animal.left_on)}`
                      : enclosure
                        ? describeRole(kind, enclosure.name)
                        : `${kind}, in no enclosure`}
                  </span>
                </button>
                <Button size="small" tone="quiet" onClick={() => setEdited(animal)}>
                  Change
                </Button>
              </div>
              {worry && !animal.left_on && (
                <p className="mt-1 border-l-4 border-high bg-high-wash px-2 py-1 text-sm">
                  {trend.text}
                </p>
              )}
              {open && (
                <div className="mt-1 space-y-1 text-sm">
                  {!worry && <p className="text-soft">{trend.text}</p>}
                  <WeightSparkline label="Weight" points={weights} dimension="mass" />
                  <WeightSparkline label="Length" points={lengths} dimension="length" />
                  {animal.hatched_on && <p>Hatched on {dayText(animal.hatched_on)}.</p>}
                  {animal.came_on && <p>Came on {dayText(animal.came_on)}.</p>}
                  {animal.note && <p className="whitespace-pre-line">{animal.note}</p>}
                </div>
              )}
            </li>
          );
        })}
      </ul>
      <AnimalDialog
        key={edited?.id ?? "none"}
        animal={edited}
        plans={plans}
        catalog={catalog}
        known={animals.some((a) => a.animal.id === edited?.id)}
        onClose={() => setEdited(null)}
      />
    </section>
  );
}

interface AnimalDialogProps {
  animal: Animal | null;
  plans: readonly PlanSummary[];
  catalog: Catalog | null;
  known: boolean;
  onClose: () => void;
}

function AnimalDialog({ animal, plans, catalog, known, onClose }: AnimalDialogProps) {
  const [made, setMade] = useState(animal);
  const notify = useNotify();
  const stored = useQueuedMutation(["animals"]);
  if (!made) return null;
  const change = (part: Partial<Animal>) => setMade({ ...made, ...part });
  const save = async () => {
    if (!(await stored(() => putAnimal({ ...made, name: made.name.trim() })))) return;
    onClose();
    if (!known || !animal) return;
    notify({
      title: `${made.name} was changed`,
      tone: "plain",
      action: { label: "Undo", run: () => void stored(() => putAnimal(animal)) },
    });
  };
  const remove = async () => {
    if (!(await stored(() => removeAnimal(made.id)))) return;
    onClose();
    notify({
      title: `${made.name} was removed from the list`,
      detail: "What was written about it stays.",
      tone: "plain",
      action: { label: "Put it back", run: () => void stored(() => putAnimal(made)) },
    });
  };
  return (
    <Panel
      open
      onOpenChange={(open) => !open && onClose()}
      title={known ? `Change ${animal?.name}` : "A new animal"}
      description="Protected or dangerous animals: keep their papers, and the local law."
    >
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          void save();
        }}
      >
        <LineField
          label="Name"
          required
          most={80}
          value={made.name}
          onChange={(name) => change({ name })}
        />
        <SelectField
          label="Lives in"
          value={made.plan_id ?? ""}
          onChange={(id) => {
            const enclosure = plans.find((p) => p.id === id);
            change({
              plan_id: id || null,
              ...(enclosure && !known ? { species_id: enclosure.document.animal.species_id } : {}),
            });
          }}
          options={[
            ...plans.map((p) => ({ value: p.id, label: p.name })),
            { value: "", label: "No enclosure of this room" },
          ]}
        />
        <SelectField
          label="Species"
          value={made.species_id}
          onChange={(species_id) => change({ species_id })}
          options={[...(catalog?.species ?? [])]
            .sort((a, b) => a.common_name.localeCompare(b.common_name))
            .map((s) => ({ value: s.id, label: `${s.common_name} (${s.scientific_name})` }))}
        />
        <SelectField
          label="Sex"
          value={made.sex}
          onChange={(sex) => change({ sex: sex as Animal["sex"] })}
          options={SEXES}
        />
        <div className="flex flex-wrap gap-3">
          <DayField
            label="Hatched on, about"
            value={made.hatched_on}
            onChange={(hatched_on) => change({ hatched_on })}
          />
          <DayField
            label="Came on"
            value={made.came_on}
            onChange={(came_on) => change({ came_on })}
          />
          <DayField
            label="Left on"
            value={made.left_on}
            onChange={(left_on) => change({ left_on })}
          />
        </div>
        <NoteField
          label="Marks, origin, papers"
          rows={3}
          most={2000}
          value={made.note}
          onChange={(note) => change({ note })}
        />
        <DialogButtons
          known={known}
          onClose={onClose}
          onRemove={() => void remove()}
          removal="Remove from the list"
        />
      </form>
    </Panel>
  );
}
