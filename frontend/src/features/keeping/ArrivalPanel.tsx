import { useQuery } from "@tanstack/react-query";
import { Check } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import { beginArrival, fetchArrivals, releaseAnimal, removeArrival } from "../../api/growth";
import { fetchAnimals } from "../../api/keeping";
import { markTask, unmarkTask } from "../../api/tasks";
import type { Arrival } from "../../api/types";
import { describe } from "../../app/notices";
import { useQueuedMutation } from "../../app/useQueuedMutation";
import { dayText, isoDay } from "../../domain/logbook/days";
import { Button } from "../../ui/Button";
import { DayField, LineField } from "../../ui/fields";
import { NumberField } from "../../ui/NumberField";
import { SelectField } from "../../ui/SelectField";

const STALE = ["arrivals", "cohabitation", "today", "tasks", "logbook"];

/** A new animal's quarantine and settling: what to do on which day and why, until it is let in. */
export function ArrivalPanel({ planId }: { planId: string }) {
  const on = isoDay();
  const arrivals = useQuery({
    queryKey: ["arrivals", planId, on],
    queryFn: () => fetchArrivals(planId, on),
    staleTime: 0,
  });
  const animals = useQuery({ queryKey: ["animals"], queryFn: fetchAnimals });
  const here = (animals.data ?? []).filter((a) => a.animal.plan_id === planId && !a.animal.left_on);
  const [chosen, setChosen] = useState("");
  const [days, setDays] = useState<number | null>(null);
  const [since, setSince] = useState(on);
  const runQueued = useQueuedMutation(STALE);
  const data = arrivals.data;
  const going = new Set((data?.arrivals ?? []).filter((a) => !a.released).map((a) => a.animal_id));
  const could = here.filter((a) => !going.has(a.animal.id));
  const animal = could.find((a) => a.animal.id === chosen)?.animal ?? could[0]?.animal;
  return (
    <section
      aria-label="New arrival"
      className="rounded-xl border border-line bg-panel p-4"
      data-testid="arrivals"
    >
      <h2 className="text-lg font-semibold">New arrival</h2>
      {arrivals.isError && (
        <p role="alert" className="text-high">
          {describe(arrivals.error).title}: {describe(arrivals.error).detail}
        </p>
      )}
      {data?.arrivals.map((arrival) => (
        <Going
          key={arrival.animal_id}
          arrival={arrival}
          on={on}
          onDo={(work) => void runQueued(work)}
        />
      ))}
      {data && animals.data && here.length === 0 && (
        <p className="text-soft">
          Add the animal in the{" "}
          <Link to="/logbook" className="text-accent underline">
            logbook
          </Link>{" "}
          first, with this enclosure as its home.
        </p>
      )}
      {data && animal && (
        <form
          className="mt-2 flex flex-wrap items-end gap-3"
          onSubmit={(e) => {
            e.preventDefault();
            void runQueued(() =>
              beginArrival(planId, {
                animal_id: animal.id,
                on: since,
                days: days ?? data.usual_days,
              }),
            );
          }}
        >
          <div className="w-44">
            <SelectField
              label="Animal"
              value={animal.id}
              onChange={setChosen}
              options={could.map((a) => ({ value: a.animal.id, label: a.animal.name }))}
            />
          </div>
          <DayField
            label="Came on"
            required
            value={since}
            onChange={(day) => setSince(day ?? on)}
          />
          <NumberField
            label="Days in quarantine"
            dimension="count"
            value={days ?? data.usual_days}
            min={14}
            max={365}
            onCommit={(n) => setDays(Math.round(n))}
          />
          <Button type="submit">Begin quarantine</Button>
        </form>
      )}
    </section>
  );
}

interface GoingProps {
  arrival: Arrival;
  on: string;
  onDo: (work: () => Promise<unknown>) => void;
}

function Going({ arrival, on, onDo }: GoingProps) {
  const [text, setText] = useState("");
  const release = arrival.steps.find((s) => s.task.origin?.endsWith(":release"));
  const steps = arrival.steps.filter((s) => s !== release);
  const open = steps.filter((s) => s.marks.length === 0);
  if (arrival.released) {
    return (
      <p className="text-soft">
        {arrival.name} came on {dayText(arrival.came_on)} and was let into the room
        {release?.marks[0] && ` on ${dayText(release.marks[0].done_on)}`}.
      </p>
    );
  }
  return (
    <div className="mb-3 border-b border-line pb-3">
      <p>
        <strong>{arrival.name}</strong>, in quarantine since {dayText(arrival.came_on)}
        {release && `, until about ${dayText(release.task.starts_on)}`}.
      </p>
      <ol className="mt-1 divide-y divide-line">
        {steps.map(({ task, status, marks }) => {
          const done = marks[0];
          const late = status.state === "overdue";
          return (
            <li
              key={task.id}
              className="flex items-start gap-3 py-1.5"
              data-testid={`step-${task.id}`}
            >
              <button
                type="button"
                aria-label={`${done ? "Not done" : "Done"}: ${task.title}`}
                aria-pressed={done !== undefined}
                onClick={() =>
                  onDo(() =>
                    done
                      ? unmarkTask(task.id, done.due_on)
                      : markTask(task.id, {
                          due_on: task.starts_on,
                          done_on: on,
                          kind: "done",
                          reason: "",
                        }),
                  )
                }
                className="grid size-10 shrink-0 place-items-center rounded-lg border-2 border-edge bg-raised aria-pressed:border-accent aria-pressed:bg-accent aria-pressed:text-accent-ink"
              >
                {done && <Check size={20} aria-hidden />}
              </button>
              <div className="min-w-0 flex-1">
                <p className="leading-snug">
                  <span className={late ? "font-semibold text-high" : "text-soft"}>
                    {late && "! "}
                    {dayText(task.starts_on)}
                  </span>{" "}
                  <strong className={done ? "font-normal" : undefined}>
                    {task.title.replace(/: [^:]*$/, "")}
                  </strong>
                </p>
                <p className="text-sm text-soft">{task.note}</p>
              </div>
            </li>
          );
        })}
      </ol>
      {release && (
        <form
          className="mt-2 flex flex-wrap items-end gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            onDo(() => releaseAnimal(arrival.animal_id, on, text));
          }}
        >
          <p className="w-full text-sm">
            <strong>Letting it into the room.</strong> {release.task.note}
            {open.length > 0 && (
              <span className="text-high"> {open.length} steps are still open.</span>
            )}
          </p>
          <LineField label="What was found" most={2000} value={text} onChange={setText} />
          <Button type="submit" tone={open.length > 0 ? "plain" : "strong"}>
            Let it into the room
          </Button>
          <Button tone="quiet" onClick={() => onDo(() => removeArrival(arrival.animal_id))}>
            No quarantine
          </Button>
        </form>
      )}
    </div>
  );
}
