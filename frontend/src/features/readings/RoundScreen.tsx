import clsx from "clsx";
import { ArrowLeft } from "lucide-react";
import { useEffect, useId, useMemo, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { closeRound } from "../../api/readings";
import type { Instrument, Reading, ReadingKind, ReadingTask } from "../../api/types";
import { ErrorPage } from "../../app/ErrorPage";
import { describe } from "../../app/notices";
import { useAction } from "../../app/useAction";
import {
  DIMENSION_OF,
  HOW,
  KIND,
  momentNow,
  SHOWABLE,
  sideOf,
  valueText,
} from "../../domain/readings/kinds";
import { type OfflineRound, remember, useRound } from "../../domain/readings/offlineRounds";
import { post, useOutbox } from "../../domain/readings/outbox";
import { fixed, readTyped, type UnitSystem, unitFormat } from "../../domain/units/units";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { usePreferences } from "../../ui/preferences";
import { OutboxStatus } from "./OutboxStatus";
import { ReadingComparison } from "./ReadingComparison";
import { WhereMap } from "./WhereMap";

/** A round of readings at the enclosure: for one hand, wet or not, with or without a connection. */
export function RoundScreen() {
  const { planId = "", roundId = "" } = useParams();
  const { stored, error, fresh } = useRound(planId, roundId);
  if (stored) return <Round key={roundId} enclosure={stored} fresh={fresh} />;
  if (error) return <ErrorPage {...describe(error)} />;
  return (
    <main aria-busy="true" className="p-6 text-soft">
      <h1 className="sr-only">A round of readings</h1>
      Opening the round…
    </main>
  );
}

/** The id of a task's reading: the same each time, so that reading again changes it. */
const readingId = (roundId: string, task: ReadingTask) =>
  `${roundId}.${task.id.replaceAll(":", ".")}`.slice(0, 64);

const TOO_FAR: Partial<Record<ReadingKind, string>> = {
  air: "Was the probe shaded, and the door closed for a quarter of an hour?",
  surface: "Was it aimed at the middle, and the lamp on for two hours?",
  uvi_facing: "Does the sensor face the lamp, with nothing in between?",
  humidity: "Has the display stood still for a quarter of an hour?",
};

function Round({ enclosure, fresh }: { enclosure: OfflineRound; fresh: boolean }) {
  const { round, plan } = enclosure;
  const { waiting } = useOutbox();
  const { units } = usePreferences();
  const [heat, setHeat] = useState<UnitSystem>(units);
  const navigate = useNavigate();
  const taken = useMemo(() => {
    const all = new Map<string, Reading>();
    for (const r of enclosure.readings) if (r.task) all.set(r.task, r);
    for (const w of waiting) {
      if (w.reading.round_id === round.id && w.reading.task) all.set(w.reading.task, w.reading);
    }
    return all;
  }, [enclosure.readings, waiting, round.id]);
  // What was read here stays on the screen when it has left the outbox.
  const seen = useRef(new Map<string, Reading>());
  for (const [task, reading] of taken) seen.current.set(task, reading);
  useEffect(() => {
    if (taken.size > 0) remember({ ...enclosure, readings: [...seen.current.values()] });
  }, [taken, enclosure]);
  const read = (task: ReadingTask) => seen.current.get(task.id);
  const [open, setOpen] = useState<string | null>(
    () => round.tasks.find((t) => !taken.has(t.id))?.id ?? null,
  );
  const count = round.tasks.filter(read).length;
  useEffect(() => {
    window.document.title = `Readings · ${plan.name} · Noon Shade`;
  }, [plan.name]);

  const take = (task: ReadingTask, value: number, instrument: string, note: string) => {
    post(plan.id, {
      id: readingId(round.id, task),
      round_id: round.id,
      task: task.id,
      revision: round.revision,
      kind: task.kind,
      value,
      at_m: task.at_m,
      place: task.place,
      taken_at: momentNow(),
      instrument_id: instrument || null,
      source: "hand",
      note,
      excluded: false,
    });
    const later = round.tasks.slice(round.tasks.indexOf(task) + 1);
    const next = [...later, ...round.tasks].find((t) => t.id !== task.id && !read(t));
    setOpen(next?.id ?? null);
  };
  const finish = useAction(
    () => closeRound(round.id, true),
    () => navigate(`/plans/${plan.id}/readings`),
  );

  return (
    <div className="mx-auto min-h-screen max-w-lg pb-8 text-base">
      <header className="sticky top-0 z-10 border-b border-line bg-panel px-3 py-2">
        <div className="flex items-center gap-2">
          <Link
            to={`/plans/${plan.id}/readings`}
            aria-label="Back to the readings"
            className="grid size-11 place-items-center rounded-md hover:bg-wash"
          >
            <ArrowLeft size={22} aria-hidden />
          </Link>
          <div className="min-w-0 flex-1">
            <h1 className="truncate leading-tight font-semibold">{plan.name}</h1>
            <p className="text-sm text-soft" data-testid="count">
              {count} of {round.tasks.length} read
            </p>
          </div>
          <Choice
            label="Temperatures in"
            value={heat}
            onChange={setHeat}
            options={[
              { value: "metric", label: "°C" },
              { value: "imperial", label: "°F" },
            ]}
          />
        </div>
        <progress
          className="mt-2 h-1.5 w-full"
          value={count}
          max={round.tasks.length}
          aria-label="Readings taken"
        />
      </header>
      <main className="px-3">
        <OutboxStatus />
        {!fresh && (
          <p className="text-sm text-soft">
            Opened from this device; waiting for Noon Shade to answer.
          </p>
        )}
        <p className="my-2 text-sm text-soft">
          Lamps on for two hours, doors closed. Begin with the room and the ground. Dry hands near
          mains plugs; hot bulbs burn.
        </p>
        <ol className="space-y-2">
          {round.tasks.map((task, i) => (
            <TaskCard
              key={task.id}
              number={i + 1}
              task={task}
              enclosure={enclosure}
              reading={read(task)}
              open={open === task.id}
              onOpen={() => setOpen(open === task.id ? null : task.id)}
              heat={heat}
              onTake={take}
            />
          ))}
        </ol>
        <div className="mt-4 space-y-2">
          {count === round.tasks.length ? (
            <p className="font-semibold text-fit">
              All read; begun at {clockOf(round.started_at)}.
            </p>
          ) : (
            <p className="text-sm text-soft">
              Skip what you cannot read; the fit is then less certain there.
            </p>
          )}
          <Button
            tone={count === round.tasks.length ? "strong" : "plain"}
            className="min-h-12 w-full text-base"
            disabled={count === 0}
            onClick={() => finish.mutate()}
          >
            Done here
          </Button>
        </div>
      </main>
    </div>
  );
}

const clockOf = (moment: string) =>
  new Date(moment).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" });

interface TaskCardProps {
  number: number;
  task: ReadingTask;
  enclosure: OfflineRound;
  reading: Reading | undefined;
  open: boolean;
  onOpen: () => void;
  heat: UnitSystem;
  onTake: (task: ReadingTask, value: number, instrument: string, note: string) => void;
}

function TaskCard({ number, task, enclosure, reading, open, onOpen, heat, onTake }: TaskCardProps) {
  const { units } = usePreferences();
  const system = DIMENSION_OF[task.kind] === "temperature" ? heat : units;
  const body = useId();
  return (
    <li
      data-testid={`task-${task.id}`}
      className={clsx(
        "rounded-xl border bg-panel",
        open ? "border-accent shadow-md" : "border-line",
      )}
    >
      <button
        type="button"
        aria-expanded={open}
        aria-controls={body}
        onClick={onOpen}
        className="flex min-h-14 w-full items-center gap-3 rounded-xl px-3 py-2 text-left hover:bg-wash"
      >
        <span
          aria-hidden="true"
          className={clsx(
            "grid size-8 shrink-0 place-items-center rounded-full font-semibold",
            reading ? "bg-fit-wash text-fit" : "bg-wash",
          )}
        >
          {reading ? "✓" : number}
        </span>
        <span className="min-w-0 flex-1">
          <span className="block leading-tight font-semibold">{task.place}</span>
          <span className="block text-sm text-soft">{KIND[task.kind]}</span>
        </span>
        {reading && (
          <span className="text-lg font-semibold whitespace-nowrap">
            {valueText(reading.value, task.kind, system)}
          </span>
        )}
      </button>
      {reading && (
        <div className="px-3 pb-2 pl-14">
          <ReadingComparison
            value={reading.value}
            expected={task.expected}
            kind={task.kind}
            units={system}
          />
          {sideOf(reading.value, task.expected) !== "ok" && (
            <p className="text-sm">
              {TOO_FAR[task.kind] ?? "Was the display steady?"} If so, this is what you came to
              find.
            </p>
          )}
        </div>
      )}
      {open && (
        <div id={body} className="space-y-3 border-t border-line px-3 py-3">
          {task.at_m && (
            <WhereMap
              document={enclosure.plan.document}
              catalog={enclosure.catalog}
              at={task.at_m}
            />
          )}
          <p className="text-sm">
            {task.why} <span className="text-soft">{HOW[task.kind]}</span>
          </p>
          <Entry
            task={task}
            instruments={enclosure.instruments.filter((i) => i.kind === task.instrument)}
            reading={reading}
            system={system}
            onTake={onTake}
          />
        </div>
      )}
    </li>
  );
}

const lastUsed = (kind: string): string => {
  try {
    return localStorage.getItem(`instrument-${kind}`) ?? "";
  } catch {
    return "";
  }
};

interface EntryProps {
  task: ReadingTask;
  instruments: readonly Instrument[];
  reading: Reading | undefined;
  system: UnitSystem;
  onTake: TaskCardProps["onTake"];
}

/** One big field. Either unit may be typed after the number. */
function Entry({ task, instruments, reading, system, onTake }: EntryProps) {
  const dimension = DIMENSION_OF[task.kind];
  const format = unitFormat(system, dimension);
  const digits = dimension === "share" ? 0 : 1;
  const [text, setText] = useState(
    reading ? fixed(format.toShown(reading.value), digits, true) : "",
  );
  const [note, setNote] = useState(reading?.note ?? "");
  const [error, setError] = useState<string | null>(null);
  const [instrument, setInstrument] = useState(() => {
    const wanted = reading?.instrument_id ?? lastUsed(task.instrument);
    return instruments.some((i) => i.id === wanted) ? wanted : "";
  });
  const field = useRef<HTMLInputElement>(null);
  const id = useId();
  useEffect(() => field.current?.focus({ preventScroll: false }), []);
  const take = () => {
    const value = readTyped(text, dimension, system);
    const [low, high] = SHOWABLE[dimension as keyof typeof SHOWABLE];
    if (value === null) {
      setError(
        `Type what the display shows, such as ${fixed(format.toShown(task.expected.value), digits)}.`,
      );
      field.current?.focus();
      return;
    }
    if (value < low || value > high) {
      setError(
        `Between ${fixed(format.toShown(low), 0)} and ${fixed(format.toShown(high), 0)} ${format.suffix}.`,
      );
      field.current?.focus();
      return;
    }
    try {
      localStorage.setItem(`instrument-${task.instrument}`, instrument);
    } catch {
      // Then it is chosen again next time.
    }
    onTake(task, value, instrument, note);
  };
  return (
    <form
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        take();
      }}
      className="space-y-2"
    >
      <label htmlFor={id} className="block font-semibold">
        {KIND[task.kind]}, by {task.instrument}
      </label>
      <div className="flex gap-2">
        <div className="relative min-w-0 flex-1">
          <input
            ref={field}
            id={id}
            type="text"
            inputMode="decimal"
            autoComplete="off"
            enterKeyHint="done"
            value={text}
            onChange={(e) => {
              setText(e.target.value);
              setError(null);
            }}
            aria-invalid={error !== null}
            aria-describedby={error ? `${id}-error` : undefined}
            className="h-16 w-full rounded-lg border-2 border-edge bg-raised pr-16 pl-4 text-3xl font-semibold aria-invalid:border-high"
          />
          <span
            aria-hidden="true"
            className="pointer-events-none absolute inset-y-0 right-4 grid place-items-center text-lg text-soft"
          >
            {format.suffix}
          </span>
        </div>
        <Button type="submit" tone="strong" className="h-16 min-w-24 text-lg">
          Save
        </Button>
      </div>
      {error && (
        <p id={`${id}-error`} role="alert" className="text-high">
          {error}
        </p>
      )}
      {instruments.length > 0 && (
        <select
          aria-label={`Which ${task.instrument}`}
          value={instrument}
          onChange={(e) => setInstrument(e.target.value)}
          className="h-11 w-full rounded-md border border-edge bg-raised px-2"
        >
          <option value="">A common {task.instrument}</option>
          {instruments.map((i) => (
            <option key={i.id} value={i.id}>
              {i.label}
            </option>
          ))}
        </select>
      )}
      <input
        type="text"
        aria-label="Note"
        placeholder="Note, if there is something to note"
        value={note}
        maxLength={500}
        onChange={(e) => setNote(e.target.value)}
        className="h-11 w-full rounded-md border border-line bg-raised px-3 text-sm placeholder:text-soft"
      />
    </form>
  );
}
