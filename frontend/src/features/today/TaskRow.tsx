import { Check, ChevronDown, SkipForward } from "lucide-react";
import { Collapsible } from "radix-ui";
import { useState } from "react";
import { Link } from "react-router";
import type { KnownTask, LogEntry, TodayGroup } from "../../api/types";
import { dayText } from "../../domain/logbook/days";
import { OUTCOMES } from "../../domain/logbook/kinds";
import { REASONS, TASK_KINDS } from "../../domain/tasks/kinds";
import { readTyped, unitFormat } from "../../domain/units/units";
import { Button } from "../../ui/Button";
import { usePreferences } from "../../ui/preferences";

/** What is written in the logbook along with doing a task, for each animal it is about. */
export type Along = Pick<LogEntry, "kind" | "outcome" | "value"> & { animal_id: string };

interface TaskRowProps {
  known: KnownTask;
  group: TodayGroup;
  onDone: (along: readonly Along[]) => void;
  onSkip: (reason: string) => void;
}

/** One thing to do: one large button does it; what was eaten or weighed is written down with it. */
export function TaskRow({ known, group, onDone, onSkip }: TaskRowProps) {
  const { task, status } = known;
  const Icon = TASK_KINDS[task.kind].icon;
  const [open, setOpen] = useState(false);
  const late = status.state === "overdue";
  const animals = task.animal_id
    ? group.animals.filter((a) => a.id === task.animal_id)
    : group.animals;
  const fed = task.kind === "feeding" && animals.length > 0;
  const weighed = task.kind === "weighing" && animals.length > 0;
  return (
    <li className="py-1.5" data-testid={`task-${task.id}`} data-state={status.state}>
      <Collapsible.Root open={open} onOpenChange={setOpen}>
        <div className="flex items-center gap-2">
          {fed || weighed ? (
            <span className="grid size-11 shrink-0 place-items-center text-accent">
              <Icon size={22} aria-hidden />
            </span>
          ) : (
            <button
              type="button"
              aria-label={`Done: ${task.title}, ${group.name}`}
              onClick={() => onDone([])}
              className="grid size-11 shrink-0 place-items-center rounded-lg border-2 border-edge bg-raised text-accent hover:bg-wash"
            >
              <Icon size={22} aria-hidden />
            </button>
          )}
          <Collapsible.Trigger className="flex min-h-11 min-w-0 flex-1 items-center gap-1 rounded px-1 text-left hover:bg-wash">
            <span className="min-w-0 flex-1">
              <span className="block leading-snug font-medium">{task.title}</span>
              {late && (
                <span className="block text-sm font-semibold text-high">
                  !{" "}
                  {task.after_done
                    ? `due since ${dayText(status.due_on ?? "")}`
                    : missedText(status.missed)}
                </span>
              )}
            </span>
            <ChevronDown
              size={18}
              aria-hidden
              className={`shrink-0 text-soft ${open ? "rotate-180" : ""}`}
            />
          </Collapsible.Trigger>
        </div>
        {fed && (
          <div className="mt-1 ml-13 flex flex-wrap gap-1.5">
            {OUTCOMES.meal?.map((o) => (
              <Button
                key={o.value}
                className="min-h-11 px-4"
                aria-label={`${o.label}: ${task.title}, ${group.name}`}
                onClick={() =>
                  onDone(
                    animals.map((a) => ({
                      animal_id: a.id,
                      kind: "meal",
                      outcome: o.value,
                      value: null,
                    })),
                  )
                }
              >
                {o.value === "eaten" && <Check size={17} aria-hidden />} {o.label}
              </Button>
            ))}
          </div>
        )}
        {weighed && <Weigh animals={animals} onDone={onDone} />}
        <Collapsible.Content className="mt-1 ml-13 space-y-2 text-sm">
          {task.note && <p>{task.note}</p>}
          {task.kind === "readings" && group.plan_id && (
            <p>
              <Link to={`/plans/${group.plan_id}/readings`} className="text-accent underline">
                To the readings of this enclosure
              </Link>
            </p>
          )}
          {task.kind === "lamp" && (
            <p>
              <Link to="/register" className="text-accent underline">
                Replace it in the lamp register
              </Link>
            </p>
          )}
          <div className="flex flex-wrap items-center gap-1.5">
            <span className="inline-flex items-center gap-1 text-soft">
              <SkipForward size={15} aria-hidden /> Skip, because:
            </span>
            {REASONS.map((reason) => (
              <Button key={reason} size="small" className="min-h-10" onClick={() => onSkip(reason)}>
                {reason}
              </Button>
            ))}
            {(fed || weighed) && (
              <Button size="small" className="min-h-10" onClick={() => onDone([])}>
                Done, without an entry
              </Button>
            )}
          </div>
          <OwnReason onSkip={onSkip} />
        </Collapsible.Content>
      </Collapsible.Root>
    </li>
  );
}

const missedText = (missed: number) => (missed === 1 ? "missed once" : `missed ${missed} times`);

function OwnReason({ onSkip }: { onSkip: (reason: string) => void }) {
  const [text, setText] = useState("");
  return (
    <form
      className="flex gap-1.5"
      onSubmit={(e) => {
        e.preventDefault();
        if (text.trim()) onSkip(text.trim());
      }}
    >
      <label className="min-w-0 flex-1">
        <span className="sr-only">Another reason to skip it</span>
        <input
          type="text"
          maxLength={300}
          value={text}
          placeholder="another reason"
          onChange={(e) => setText(e.target.value)}
          className="h-10 w-full rounded-md border border-edge bg-raised px-2"
        />
      </label>
      <Button type="submit" className="min-h-10" disabled={!text.trim()}>
        Skip
      </Button>
    </form>
  );
}

interface WeighProps {
  animals: TodayGroup["animals"];
  onDone: (along: readonly Along[]) => void;
}

const LIGHTEST_G = 0.01;
const HEAVIEST_G = 500_000;

function Weigh({ animals, onDone }: WeighProps) {
  const { units } = usePreferences();
  const [texts, setTexts] = useState<Record<string, string>>({});
  const [wrong, setWrong] = useState(false);
  const { suffix } = unitFormat(units, "mass");
  const save = () => {
    const typed = animals.filter((a) => texts[a.id]?.trim());
    const read = typed.map((a) => ({
      id: a.id,
      grams: readTyped(texts[a.id] ?? "", "mass", units),
    }));
    const bad = read.some((r) => r.grams === null || r.grams < LIGHTEST_G || r.grams > HEAVIEST_G);
    if (bad || read.length === 0) return setWrong(true);
    onDone(read.map((r) => ({ animal_id: r.id, kind: "weight", outcome: "", value: r.grams })));
  };
  return (
    <form
      className="mt-1 ml-13 flex flex-wrap items-end gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        save();
      }}
    >
      {animals.map((a) => (
        <label key={a.id} className="text-sm text-soft">
          {a.name}, {suffix}
          <input
            type="text"
            inputMode="decimal"
            autoComplete="off"
            aria-invalid={wrong}
            value={texts[a.id] ?? ""}
            onChange={(e) => {
              setWrong(false);
              setTexts((all) => ({ ...all, [a.id]: e.target.value }));
            }}
            className="block h-12 w-28 rounded-md border border-edge bg-raised px-2.5 text-xl font-semibold text-ink aria-invalid:border-high"
          />
        </label>
      ))}
      <Button type="submit" className="min-h-12 px-4">
        <Check size={17} aria-hidden /> Weighed
      </Button>
      {wrong && (
        <p role="alert" className="w-full text-sm text-high">
          Type a weight as in 42.5 {suffix}.
        </p>
      )}
    </form>
  );
}
