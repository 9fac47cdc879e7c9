import { useQuery, useQueryClient } from "@tanstack/react-query";
import { ChevronLeft, ChevronRight, ListChecks, Undo2 } from "lucide-react";
import { useEffect } from "react";
import { Link, useSearchParams } from "react-router";
import { fetchPlans } from "../../api/client";
import { removeEntry } from "../../api/keeping";
import { fetchToday, markTask, takeUsual, unmarkTask } from "../../api/tasks";
import type { KnownTask, LogEntry, TaskMark, Today, TodayGroup } from "../../api/types";
import { Header } from "../../app/Header";
import { describe, useNotify } from "../../app/notices";
import { useAction } from "../../app/useAction";
import { useQueuedMutation } from "../../app/useQueuedMutation";
import { dayText, isoDay, noonOf } from "../../domain/logbook/days";
import { freshId, momentNow } from "../../domain/readings/kinds";
import { Button, IconButton } from "../../ui/Button";
import { SettledMain } from "../../ui/Settled";
import { TasksPanel } from "../keeping/TasksPanel";
import { type Along, TaskRow } from "./TaskRow";

const STALE = ["today", "tasks", "logbook", "animals"];
const DAY = /^\d{4}-\d{2}-\d{2}$/;

/** The day's round through the room, enclosure by enclosure by rack and shelf, made for a phone in one hand. */
export function TodayScreen() {
  const [params, setParams] = useSearchParams();
  const cache = useQueryClient();
  const notify = useNotify();
  const today = isoDay();
  const asked = params.get("on") ?? "";
  const on = DAY.test(asked) && !Number.isNaN(noonOf(asked).getTime()) ? asked : today;
  const key = ["today", on];
  const round = useQuery({ queryKey: key, queryFn: () => fetchToday(on), staleTime: 0 });
  useEffect(() => {
    document.title = "Today · Noon Shade";
  }, []);
  const go = (by: number) => {
    const day = noonOf(on);
    day.setDate(day.getDate() + by);
    const next = isoDay(day);
    setParams(next === today ? {} : { on: next }, { replace: true });
  };
  const runQueued = useQueuedMutation(STALE);
  /** Mark a day of a task; the screen shows it at once, and puts it back if it cannot be stored. */
  const mark = async (
    group: TodayGroup,
    { task, status }: KnownTask,
    kind: TaskMark["kind"],
    reason: string,
    along: readonly Along[],
  ) => {
    const made: TaskMark = { due_on: status.due_on ?? on, kind, done_on: on, reason };
    const entries: LogEntry[] = along.map((a) => ({
      ...a,
      id: freshId(),
      plan_id: group.plan_id,
      at: on === today ? momentNow() : momentNow(noonOf(on)),
      food: a.kind === "meal" ? task.title : "",
      text: "",
    }));
    void cache.cancelQueries({ queryKey: key });
    cache.setQueryData<Today>(key, (old) => old && withMark(old, task.id, made));
    const back = () =>
      void runQueued(async () => {
        for (const entry of entries) await removeEntry(entry.id);
        await unmarkTask(task.id, made.due_on);
      }, task.id);
    const done = await runQueued(() => markTask(task.id, made, entries), task.id);
    if (done) {
      notify({
        title: `${task.title}: ${kind === "done" ? "done" : "skipped"}`,
        tone: "plain",
        action: { label: "Undo", run: back },
      });
    }
  };

  const groups = round.data?.groups ?? [];
  const open = groups.reduce((n, g) => n + g.open.length, 0);
  const done = groups.reduce((n, g) => n + g.done.length, 0);
  const busy = groups.filter((g) => g.open.length > 0 || g.done.length > 0 || g.lamps.length > 0);
  return (
    <div className="flex min-h-screen flex-col">
      <Header />
      <SettledMain className="mx-auto w-full max-w-6xl flex-1 p-3 sm:p-4">
        <div className="flex items-center gap-1">
          <h1 className="flex-1 text-2xl leading-tight font-semibold">
            {on === today ? "Today" : dayText(on)}
            <span className="block text-base font-normal text-soft">
              {noonOf(on).toLocaleDateString([], { weekday: "long" })}
              {on === today && `, ${dayText(on)}`}
            </span>
          </h1>
          <IconButton label="The day before" className="size-11" onClick={() => go(-1)}>
            <ChevronLeft size={22} aria-hidden />
          </IconButton>
          {on !== today && (
            <Button size="small" onClick={() => setParams({}, { replace: true })}>
              Today
            </Button>
          )}
          <IconButton label="The day after" className="size-11" onClick={() => go(1)}>
            <ChevronRight size={22} aria-hidden />
          </IconButton>
        </div>
        {round.isPending && <p className="mt-3 text-soft">Looking up what is due…</p>}
        {round.isError && (
          <div role="alert" className="mt-3 rounded-lg border border-high bg-high-wash p-3">
            <p className="font-semibold text-high">{describe(round.error).title}</p>
            <p>{describe(round.error).detail}</p>
            <Button className="mt-2" onClick={() => void round.refetch()}>
              Try again
            </Button>
          </div>
        )}
        {round.data && !round.data.has_tasks && (
          <Begin on={today} onDone={() => void cache.invalidateQueries({ queryKey: ["today"] })} />
        )}
        {round.data?.has_tasks && (
          <p role="status" className="mt-2 flex items-center gap-3" data-testid="today-state">
            <progress
              aria-hidden="true"
              className="h-3 flex-1"
              value={done}
              max={Math.max(1, done + open)}
            />
            <strong>
              {open === 0
                ? done > 0
                  ? "All done"
                  : "Nothing is due"
                : `${done} of ${done + open}`}
            </strong>
          </p>
        )}
        <div className="mt-3 gap-3 md:columns-2 xl:columns-3">
          {busy.map((group) => (
            <Group
              key={group.plan_id ?? "room"}
              group={group}
              onDone={(known, along) => void mark(group, known, "done", "", along)}
              onSkip={(known, reason) => void mark(group, known, "skipped", reason, [])}
              onBack={(id, due) => void runQueued(() => unmarkTask(id, due), id)}
            />
          ))}
        </div>
        {round.data?.has_tasks && (
          <div className="space-y-3">
            <Week coming={round.data.coming} />
            <details className="rounded-xl border border-line bg-panel p-3">
              <summary className="min-h-8 font-semibold">Tasks of the whole room</summary>
              <TasksPanel planId={null} version="room" />
            </details>
          </div>
        )}
      </SettledMain>
    </div>
  );
}

function withMark(today: Today, taskId: string, mark: TaskMark): Today {
  return {
    ...today,
    groups: today.groups.map((g) => {
      const known = g.open.find((k) => k.task.id === taskId);
      return known
        ? {
            ...g,
            open: g.open.filter((k) => k !== known),
            done: [...g.done, { task: known.task, mark }],
          }
        : g;
    }),
  };
}

interface GroupProps {
  group: TodayGroup;
  onDone: (known: KnownTask, along: readonly Along[]) => void;
  onSkip: (known: KnownTask, reason: string) => void;
  onBack: (taskId: string, dueOn: string) => void;
}

/** What a winter rest means for the round of the day. */
const PHASES: Record<TodayGroup["phase"], string | null> = {
  usual: null,
  winding_down: "On the way into its rest: nothing is fed, so that nothing is left undigested.",
  brumation: "In its winter rest: look and weigh, offer water, feed nothing.",
  winding_up: "On the way out of its rest: water and warmth first, then food.",
};

function Group({ group, onDone, onSkip, onBack }: GroupProps) {
  const names = group.animals.map((a) => a.name).join(", ");
  return (
    <section
      aria-label={group.name}
      className="mb-3 break-inside-avoid rounded-xl border border-line bg-panel p-3"
      data-testid={`today-${group.plan_id ?? "room"}`}
    >
      <div className="flex items-baseline justify-between gap-2">
        <h2 className="min-w-0 leading-snug font-semibold">
          {names && `${names}: `}
          <span className={names ? "font-normal text-soft" : ""}>{group.name}</span>
        </h2>
        {group.plan_id && (
          <Link
            to={`/plans/${group.plan_id}/keeping`}
            className="inline-flex min-h-8 shrink-0 items-center text-sm text-accent underline"
          >
            Change
          </Link>
        )}
      </div>
      {PHASES[group.phase] && (
        <p className="mt-1 border-l-4 border-low bg-low-wash px-2 py-1 text-sm">
          {PHASES[group.phase]}
        </p>
      )}
      {group.lamps.map((lamp) => (
        <p
          key={lamp.about_id}
          className={`mt-1 text-sm ${lamp.kind === "replace_lamp" ? "font-semibold text-high" : ""}`}
        >
          {lamp.kind === "replace_lamp" ? "! " : "· "}
          {lamp.message}{" "}
          <Link to="/register" className="font-normal text-accent underline">
            Register
          </Link>
        </p>
      ))}
      <ul className="divide-y divide-line">
        {group.open.map((known) => (
          <TaskRow
            key={known.task.id}
            known={known}
            group={group}
            onDone={(along) => onDone(known, along)}
            onSkip={(reason) => onSkip(known, reason)}
          />
        ))}
      </ul>
      {group.done.length > 0 && (
        <ul className="mt-1 border-t border-line pt-1 text-sm text-soft" aria-label="Done">
          {group.done.map(({ task, mark }) => (
            <li key={`${task.id} ${mark.due_on}`} className="flex items-center gap-2">
              <span className="flex-1">
                {mark.kind === "done" ? "✓" : "↷"} {task.title}
                {mark.kind === "skipped" && `, skipped: ${mark.reason}`}
              </span>
              <IconButton
                label={`Not ${mark.kind}: ${task.title}, ${group.name}`}
                onClick={() => onBack(task.id, mark.due_on)}
              >
                <Undo2 size={16} aria-hidden />
              </IconButton>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

/** Nothing was set up yet: what is usual can be taken for all enclosures at once. */
function Begin({ on, onDone }: { on: string; onDone: () => void }) {
  const notify = useNotify();
  const plans = useQuery({ queryKey: ["plans"], queryFn: fetchPlans });
  const all = plans.data ?? [];
  const take = useAction(
    () =>
      takeUsual(
        on,
        all.map((p) => p.id),
        true,
      ),
    (made) => {
      notify({ title: `${made.length} tasks were set up`, tone: "plain" });
      onDone();
    },
  );
  return (
    <div className="mt-6 rounded-lg border border-dashed border-edge p-8 text-center">
      <ListChecks size={32} aria-hidden className="mx-auto text-accent" />
      <p className="mt-2 text-lg font-semibold">No tasks yet</p>
      <p className="mx-auto mt-1 max-w-prose text-soft">
        {all.length === 0
          ? "Here each enclosure will have its water, food, dusting, cleaning, weighing and readings of the day, to be ticked off with one touch. Plan an enclosure first."
          : `Take what is usually done for ${all.length === 1 ? "your enclosure" : `each of your ${all.length} enclosures`}, by animal and stage: water, food, dusting, cleaning, weighing, readings, tests. Each can be changed.`}
      </p>
      {plans.data?.length === 0 ? (
        <Link
          to="/new"
          className="mt-3 inline-flex min-h-11 items-center rounded-md bg-accent px-5 font-medium text-accent-ink hover:opacity-90"
        >
          Plan an enclosure
        </Link>
      ) : (
        <Button
          tone="strong"
          className="mt-3 min-h-11 px-5"
          disabled={!plans.data || take.isPending}
          onClick={() => take.mutate()}
        >
          Set up the usual tasks
        </Button>
      )}
    </div>
  );
}

function Week({ coming }: { coming: Today["coming"] }) {
  return (
    <section
      aria-label="The week ahead"
      className="mt-2 rounded-xl border border-line bg-panel p-3"
    >
      <h2 className="font-semibold">The week ahead</h2>
      <ul className="mt-1 divide-y divide-line text-sm">
        {coming.map((day) => (
          <li key={day.day} className="flex gap-3 py-1.5">
            <span className="w-24 shrink-0 text-soft">
              {noonOf(day.day).toLocaleDateString([], {
                weekday: "short",
                day: "numeric",
                month: "short",
              })}
            </span>
            <strong className="w-8 shrink-0 text-right">{day.count}</strong>
            <span className="min-w-0 flex-1 text-soft">{day.titles.join(" · ")}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
