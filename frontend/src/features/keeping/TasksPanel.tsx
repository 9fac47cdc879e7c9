import { useQuery } from "@tanstack/react-query";
import { Plus } from "lucide-react";
import { useState } from "react";
import { fetchTasks, fetchUsual, putTask, removeTask } from "../../api/tasks";
import type { KnownTask, Task, UsualTask } from "../../api/types";
import { describe, useNotify } from "../../app/notices";
import { useQueuedMutation } from "../../app/useQueuedMutation";
import { dayText, isoDay } from "../../domain/logbook/days";
import { freshId } from "../../domain/readings/kinds";
import { TASK_KINDS } from "../../domain/tasks/kinds";
import { ruleText } from "../../domain/tasks/rules";
import { Button } from "../../ui/Button";
import { TaskDialog } from "./TaskDialog";

const STALE = ["tasks", "today"];

interface TasksPanelProps {
  /** null: those of the whole room. */
  planId: string | null;
  /** Changes with the plan, since what is usual follows from it. */
  version: string;
}

/** The tasks of an enclosure: what comes back how often, how it went, and what is usual beside it. */
export function TasksPanel({ planId, version }: TasksPanelProps) {
  const on = isoDay();
  const notify = useNotify();
  const tasks = useQuery({
    queryKey: ["tasks", planId, on],
    queryFn: () => fetchTasks(on, planId),
    staleTime: 0,
  });
  const usual = useQuery({
    queryKey: ["tasks", "usual", planId, on, version],
    queryFn: () => fetchUsual(on, planId),
  });
  const [edited, setEdited] = useState<Task | null>(null);
  const runQueued = useQueuedMutation(STALE);
  const remove = async (task: Task) => {
    setEdited(null);
    if (!(await runQueued(() => removeTask(task.id)))) return;
    notify({
      title: `“${task.title}” was deleted`,
      tone: "plain",
      action: { label: "Put it back", run: () => void runQueued(() => putTask(task)) },
    });
  };
  const known = tasks.data ?? [];
  const fresh = (usual.data ?? []).filter((u) => u.state === "new");
  const other = (usual.data ?? []).filter((u) => u.state === "changed");
  const error = tasks.error ?? usual.error;
  return (
    <section
      aria-label="Tasks"
      className="rounded-xl border border-line bg-panel p-4"
      data-testid="tasks"
    >
      <div className="flex flex-wrap items-center justify-between gap-2">
        <h2 className="text-lg font-semibold">
          {planId ? "Tasks of this enclosure" : "Tasks of the whole room"}
        </h2>
        <Button
          size="small"
          onClick={() =>
            setEdited({
              id: freshId(),
              plan_id: planId,
              animal_id: null,
              kind: "own",
              title: "",
              note: "",
              rule: "FREQ=WEEKLY",
              starts_on: on,
              after_done: false,
              ends_on: null,
              origin: "",
            })
          }
        >
          <Plus size={16} aria-hidden /> Add one
        </Button>
      </div>
      {error && (
        <p role="alert" className="text-high">
          {describe(error).title}: {describe(error).detail}
        </p>
      )}
      {tasks.data && known.length === 0 && (
        <p className="mt-1 text-soft">
          None yet. The usual tasks for this animal are listed below.
        </p>
      )}
      <ul className="mt-1 divide-y divide-line">
        {known.map((k) => (
          <li key={k.task.id} data-testid={`task-${k.task.id}`}>
            <Row known={k} onEdit={() => setEdited(k.task)} />
          </li>
        ))}
      </ul>
      {fresh.length > 0 && (
        <Usual
          title="Usual for this animal, and not added yet"
          list={fresh}
          label="Add it"
          onTake={(u) => void runQueued(() => putTask(u.task))}
        >
          {fresh.length > 1 && (
            <Button
              tone="strong"
              onClick={() => void runQueued(() => Promise.all(fresh.map((u) => putTask(u.task))))}
            >
              Add all {fresh.length}
            </Button>
          )}
        </Usual>
      )}
      {other.length > 0 && (
        <Usual
          title="Different from the usual"
          list={other}
          label="As usual"
          onTake={(u) => void runQueued(() => putTask(u.task))}
        />
      )}
      {edited && (
        <TaskDialog
          key={edited.id}
          task={edited}
          known={known.some((k) => k.task.id === edited.id)}
          onSave={async (task) => {
            const before = known.find((k) => k.task.id === task.id)?.task;
            const done = await runQueued(() => putTask(task));
            if (done && before) {
              notify({
                title: `“${task.title}” was changed`,
                tone: "plain",
                action: { label: "Undo", run: () => void runQueued(() => putTask(before)) },
              });
            }
            return done;
          }}
          onRemove={() => void remove(edited)}
          onClose={() => setEdited(null)}
        />
      )}
    </section>
  );
}

const LATELY = 14;

function Row({ known: { task, status, marks }, onEdit }: { known: KnownTask; onEdit: () => void }) {
  const Icon = TASK_KINDS[task.kind].icon;
  const late = status.state === "overdue";
  const lately = marks.slice(-LATELY);
  const said = lately
    .map((m) => `${dayText(m.due_on)} ${m.kind}${m.reason ? `, ${m.reason}` : ""}`)
    .join("; ");
  return (
    <div className="flex items-start gap-3 py-2">
      <Icon size={20} aria-hidden className="mt-0.5 shrink-0 text-accent" />
      <div className="min-w-0 flex-1">
        <p className="leading-snug">
          <strong>{task.title}</strong>{" "}
          <span className="text-soft">{ruleText(task.rule ?? "", task.after_done ?? false)}</span>
        </p>
        <p className="text-sm">
          <span className={late ? "font-semibold text-high" : "text-soft"}>
            {status.state === "ended"
              ? "ended"
              : status.state === "coming"
                ? `next on ${dayText(status.due_on ?? "")}`
                : status.state === "due"
                  ? "due today"
                  : `! overdue since ${dayText(status.due_on ?? "")}`}
          </span>
          {lately.length > 0 && (
            <span className="ml-2 tracking-widest text-soft" title={said}>
              <span aria-hidden="true">
                {lately.map((m) => (m.kind === "done" ? "●" : "○")).join("")}
              </span>
              <span className="sr-only">Lately: {said}</span>
            </span>
          )}
        </p>
      </div>
      <Button size="small" tone="quiet" aria-label={`Change: ${task.title}`} onClick={onEdit}>
        Change
      </Button>
    </div>
  );
}

interface UsualProps {
  title: string;
  list: readonly UsualTask[];
  label: string;
  onTake: (usual: UsualTask) => void;
  children?: React.ReactNode;
}

function Usual({ title, list, label, onTake, children }: UsualProps) {
  return (
    <div className="mt-3 border-t border-line pt-3">
      <div className="flex flex-wrap items-center justify-between gap-2">
        <h3 className="font-semibold">{title}</h3>
        {children}
      </div>
      <ul className="divide-y divide-line text-sm">
        {list.map((usual) => (
          <li key={usual.task.id} className="flex items-start gap-2 py-1.5">
            <span className="min-w-0 flex-1">
              <strong>{usual.task.title}</strong>{" "}
              {ruleText(usual.task.rule ?? "", usual.task.after_done ?? false)}
              <span className="block text-soft">{usual.task.note}</span>
            </span>
            <Button
              size="small"
              aria-label={`${label}: ${usual.task.title}`}
              onClick={() => onTake(usual)}
            >
              {label}
            </Button>
          </li>
        ))}
      </ul>
    </div>
  );
}
