import { useState } from "react";
import type { Task, TaskKind } from "../../api/types";
import { TASK_KIND_NAMES, TASK_KINDS } from "../../domain/tasks/kinds";
import {
  type Choices,
  choicesOf,
  ruleOf,
  type Unit,
  WEEKDAYS,
  weekday,
} from "../../domain/tasks/rules";
import { CheckField } from "../../ui/CheckField";
import { DialogButtons } from "../../ui/DialogButtons";
import { DayField, LineField, NoteField } from "../../ui/fields";
import { NumberField } from "../../ui/NumberField";
import { Panel } from "../../ui/Panel";
import { SelectField } from "../../ui/SelectField";

interface TaskDialogProps {
  task: Task;
  known: boolean;
  onSave: (task: Task) => Promise<boolean>;
  onRemove: () => void;
  onClose: () => void;
}

const LONGEST: Record<Unit, number> = { once: 1, day: 3650, week: 520, month: 120, year: 10 };

/** What a task is and how it comes back. */
export function TaskDialog({ task, known, onSave, onRemove, onClose }: TaskDialogProps) {
  const [made, setMade] = useState(task);
  const change = (part: Partial<Task>) => setMade((old) => ({ ...old, ...part }));
  const choices = choicesOf(made.rule ?? "");
  const choose = (part: Partial<Choices>) => {
    const next = { unit: "week" as Unit, count: 1, days: [], ...choices, ...part };
    const count = Math.min(LONGEST[next.unit], next.count);
    const plain = next.unit !== "week" || next.days.length === 0;
    change({ rule: ruleOf({ ...next, count }), ...(plain ? {} : { after_done: false }) });
  };
  return (
    <Panel
      open
      onOpenChange={(open) => !open && onClose()}
      title={known ? "Change the task" : "A new task"}
      description="How often is yours to say: look at the animal, not at the list."
    >
      <form
        className="space-y-3"
        onSubmit={async (e) => {
          e.preventDefault();
          if (await onSave({ ...made, title: made.title.trim() })) onClose();
        }}
      >
        <SelectField
          label="Kind"
          value={made.kind}
          onChange={(kind) => change({ kind: kind as TaskKind })}
          options={TASK_KIND_NAMES.map((k) => ({ value: k, label: TASK_KINDS[k].label }))}
        />
        <LineField
          label="What to do"
          required
          most={120}
          value={made.title}
          onChange={(title) => change({ title })}
        />
        <div className="flex flex-wrap items-end gap-3">
          <SelectField
            label="Repeats"
            value={choices?.unit ?? "other"}
            onChange={(unit) => choose({ unit: unit as Unit })}
            options={[
              { value: "once", label: "once" },
              { value: "day", label: "by days" },
              { value: "week", label: "by weeks" },
              { value: "month", label: "by months" },
              { value: "year", label: "by years" },
              ...(choices ? [] : [{ value: "other", label: "by another rule" }]),
            ]}
          />
          {choices && choices.unit !== "once" && (
            <NumberField
              label={`Every how many ${choices.unit}s`}
              value={choices.count}
              dimension="count"
              min={1}
              max={LONGEST[choices.unit]}
              onCommit={(n) => choose({ count: Math.round(n) })}
            />
          )}
          {!choices && (
            <p className="pb-2 text-sm">
              <code>{made.rule}</code>
            </p>
          )}
        </div>
        {choices?.unit === "week" && (
          <fieldset>
            <legend className="text-sm text-soft">On (none: the weekday it begins on)</legend>
            <div className="flex flex-wrap gap-1">
              {WEEKDAYS.map((code) => (
                <label
                  key={code}
                  className="inline-flex min-h-10 min-w-11 cursor-pointer items-center justify-center rounded-md border border-edge bg-raised px-2 text-sm has-checked:bg-accent has-checked:text-accent-ink has-focus-visible:outline-3 has-focus-visible:outline-accent"
                >
                  <input
                    type="checkbox"
                    className="sr-only"
                    checked={choices.days.includes(code)}
                    aria-label={weekday(code)}
                    onChange={(e) =>
                      choose({
                        days: e.target.checked
                          ? [...choices.days, code]
                          : choices.days.filter((d) => d !== code),
                      })
                    }
                  />
                  {weekday(code, "short")}
                </label>
              ))}
            </div>
          </fieldset>
        )}
        {choices && choices.unit !== "once" && choices.days.length === 0 && (
          <CheckField
            label="Count from the day it was last done"
            checked={made.after_done ?? false}
            onChange={(after_done) => change({ after_done })}
          />
        )}
        <div className="flex flex-wrap gap-3">
          <DayField
            label="First on"
            required
            value={made.starts_on}
            onChange={(day) => day && change({ starts_on: day })}
          />
          <DayField
            label="Last on"
            value={made.ends_on}
            onChange={(ends_on) => change({ ends_on })}
          />
        </div>
        <NoteField
          label="How, and why"
          rows={4}
          most={1000}
          value={made.note}
          onChange={(note) => change({ note })}
        />
        <DialogButtons known={known} onClose={onClose} onRemove={onRemove} removal="Delete" />
      </form>
    </Panel>
  );
}
