import { Camera } from "lucide-react";
import { useId, useState } from "react";
import type { KnownAnimal, LogEntry, LogKind, PlanSummary } from "../../api/types";
import { KIND_NAMES, KINDS, OUTCOMES } from "../../domain/logbook/kinds";
import { freshId, momentNow } from "../../domain/readings/kinds";
import { readTyped, show, unitFormat } from "../../domain/units/units";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { FileButton } from "../../ui/FileButton";
import { LineField, NoteField } from "../../ui/fields";
import { usePreferences } from "../../ui/preferences";
import { SelectField } from "../../ui/SelectField";

interface EntryFormProps {
  plans: readonly PlanSummary[];
  animals: readonly KnownAnimal[];
  /** What is changed; without it a new entry is written. */
  entry?: LogEntry;
  /** What a new entry is about by default: "animal:id" or "enclosure:id". */
  about?: string;
  /** Store it; true when that is done. */
  onSave: (entry: LogEntry, photos: readonly File[]) => Promise<boolean>;
  onCancel?: () => void;
}

const MEASURED = { weight: "mass", length: "length" } as const;
const LIMITS = { weight: [0.01, 500_000], length: [0.001, 10] } as const;

/** One entry: what kind, about whom, and what is to say; a meal takes three taps. */
export function EntryForm(props: EntryFormProps) {
  const { plans, animals, entry, onSave, onCancel } = props;
  const { units } = usePreferences();
  const [kind, setKind] = useState<LogKind>(entry?.kind ?? "note");
  const [chosen, setChosen] = useState(entry ? aboutOf(entry) : null);
  const about = chosen ?? props.about ?? "room";
  const [value, setValue] = useState(() =>
    entry?.value != null && entry.kind in MEASURED
      ? show(entry.value, MEASURED[entry.kind as "weight"], units)
      : "",
  );
  const [food, setFood] = useState(entry?.food ?? "");
  const [outcome, setOutcome] = useState<LogEntry["outcome"]>(entry?.outcome ?? "");
  const [text, setText] = useState(entry?.text ?? "");
  const [at, setAt] = useState(entry ? localOf(entry.at) : "");
  const [photos, setPhotos] = useState<readonly File[]>([]);
  const [wrong, setWrong] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const id = useId();
  const measured = kind === "weight" || kind === "length" ? kind : null;
  const outcomes = OUTCOMES[kind];

  const save = async () => {
    const made: LogEntry = {
      id: entry?.id ?? freshId(),
      ...aboutIds(about, animals),
      kind,
      at: at ? momentNow(new Date(at)) : momentNow(),
      value: null,
      food: kind === "meal" ? food.trim() : "",
      outcome: outcomes?.some((o) => o.value === outcome) ? outcome : "",
      text: text.trim(),
    };
    if (measured) {
      const read = readTyped(value, MEASURED[measured], units);
      const [low, high] = LIMITS[measured];
      if (read === null || read < low || read > high) {
        const [least, most] = [low, high].map((v) => show(v, MEASURED[measured], units));
        return setWrong(`Type a ${measured} from ${least} to ${most}.`);
      }
      made.value = read;
    }
    if (KINDS[kind].animal && made.animal_id === null && (measured || outcomes)) {
      return setWrong("Choose which animal it is about.");
    }
    if (outcomes && !made.outcome && kind === "meal") return setWrong("Was it eaten?");
    if (!measured && !outcomes && !made.text) return setWrong("Write what there is to say.");
    setWrong(null);
    setBusy(true);
    const done = await onSave(made, photos);
    setBusy(false);
    if (done && !entry) {
      setValue("");
      setText("");
      setOutcome("");
      setAt("");
      setPhotos([]);
    }
  };

  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}
      className="space-y-3"
      data-testid={entry ? "edit-entry" : "new-entry"}
    >
      <fieldset>
        <legend className="sr-only">Kind of entry</legend>
        <div className="flex flex-wrap gap-1.5">
          {KIND_NAMES.map((name) => {
            const Icon = KINDS[name].icon;
            return (
              <label
                key={name}
                className="inline-flex min-h-10 cursor-pointer items-center gap-1.5 rounded-md border border-edge bg-raised px-2.5 text-sm font-medium hover:bg-wash has-checked:border-accent has-checked:bg-accent has-checked:text-accent-ink has-focus-visible:outline-3 has-focus-visible:outline-offset-2 has-focus-visible:outline-accent"
              >
                <input
                  type="radio"
                  name={id}
                  className="sr-only"
                  checked={kind === name}
                  onChange={() => setKind(name)}
                />
                <Icon size={16} aria-hidden /> {KINDS[name].label}
              </label>
            );
          })}
        </div>
      </fieldset>
      <div className="flex flex-wrap items-end gap-3">
        <div className="w-56">
          <SelectField
            label="About"
            value={about}
            onChange={setChosen}
            options={aboutOptions(plans, animals)}
          />
        </div>
        {measured && (
          <label className="text-sm text-soft">
            {KINDS[measured].label} in {unitFormat(units, MEASURED[measured]).suffix}
            <input
              type="text"
              inputMode="decimal"
              autoComplete="off"
              value={value}
              onChange={(e) => setValue(e.target.value)}
              className="block h-11 w-36 rounded-md border border-edge bg-raised px-2.5 text-xl font-semibold text-ink"
            />
          </label>
        )}
        {kind === "meal" && (
          <LineField
            label="Food"
            most={200}
            placeholder="5 crickets, calcium"
            value={food}
            onChange={setFood}
          />
        )}
        {outcomes && (
          <Choice label="Outcome" value={outcome} onChange={setOutcome} options={outcomes} />
        )}
      </div>
      <NoteField
        label={KINDS[kind].ask}
        most={5000}
        rows={measured || kind === "meal" ? 1 : 3}
        value={text}
        onChange={setText}
      />
      {kind === "illness" && (
        <p className="border-l-4 border-high bg-high-wash px-3 py-1.5 text-sm">
          Signs of illness, a burn, or no food for long: a veterinarian with reptile experience.
          What you note here helps them.
        </p>
      )}
      <div className="flex flex-wrap items-end gap-2">
        <label className="text-sm text-soft">
          When {!at && <span>(now)</span>}
          <input
            type="datetime-local"
            value={at}
            max="2200-01-01T00:00"
            onChange={(e) => setAt(e.target.value)}
            className="block h-9 rounded-md border border-edge bg-raised px-2 text-ink"
          />
        </label>
        <FileButton
          label="Photograph"
          accept="image/jpeg,image/png,image/webp"
          testId="photo-file"
          onFile={(file) => setPhotos((all) => [...all, file])}
        >
          <Camera size={17} aria-hidden /> Photograph
        </FileButton>
        {photos.length > 0 && (
          <span className="flex min-h-9 items-center gap-2 text-sm">
            {photos.map((p) => p.name).join(", ")}
            <Button size="small" onClick={() => setPhotos([])}>
              None
            </Button>
          </span>
        )}
        <span className="ml-auto flex gap-2">
          {onCancel && <Button onClick={onCancel}>Leave it</Button>}
          <Button type="submit" tone="strong" className="min-h-11 px-5" disabled={busy}>
            {busy ? "Storing…" : entry ? "Change it" : "Write it down"}
          </Button>
        </span>
      </div>
      {wrong && (
        <p role="alert" className="text-sm text-high">
          {wrong}
        </p>
      )}
    </form>
  );
}

const aboutOf = (entry: LogEntry): string =>
  entry.animal_id
    ? `animal:${entry.animal_id}`
    : entry.plan_id
      ? `enclosure:${entry.plan_id}`
      : "room";

function aboutIds(about: string, animals: readonly KnownAnimal[]) {
  const [what, id = ""] = about.split(/:(.*)/);
  if (what === "animal") {
    const known = animals.find((a) => a.animal.id === id);
    return { animal_id: id, plan_id: known?.animal.plan_id ?? null };
  }
  return { animal_id: null, plan_id: what === "enclosure" ? id : null };
}

export function aboutOptions(plans: readonly PlanSummary[], animals: readonly KnownAnimal[]) {
  return [
    ...animals.map(({ animal }) => ({
      value: `animal:${animal.id}`,
      label: animal.left_on ? `${animal.name} (left)` : animal.name,
      group: "Animals",
    })),
    ...plans.map((p) => ({ value: `enclosure:${p.id}`, label: p.name, group: "Enclosures" })),
    { value: "room", label: "The whole room", group: "Room" },
  ];
}

/** A moment as the browser's own field for date and time has it. */
function localOf(moment: string): string {
  const at = new Date(moment);
  return new Date(at.getTime() - at.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
}
