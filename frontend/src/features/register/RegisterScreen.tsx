import { useQueries, useQuery } from "@tanstack/react-query";
import { Lightbulb, Plus } from "lucide-react";
import { useEffect, useState } from "react";
import { Link, useNavigate } from "react-router";
import { fetchCatalog, fetchPlans } from "../../api/client";
import {
  fetchLampForecast,
  fetchRegister,
  installLamp,
  putInstalledLamp,
  registerLamps,
  removeInstalledLamp,
  setLampHours,
  takeDown,
} from "../../api/installedLamps";
import { startRound } from "../../api/readings";
import type {
  InstallationResult,
  InstalledLamp,
  InstalledLampStatus,
  PlanSummary,
  Shortfall,
} from "../../api/types";
import { Header } from "../../app/Header";
import { describe, useNotify } from "../../app/notices";
import { useAction } from "../../app/useAction";
import { useQueuedMutation } from "../../app/useQueuedMutation";
import { dayText, isoDay } from "../../domain/logbook/days";
import { freshId } from "../../domain/readings/kinds";
import { fixed } from "../../domain/units/units";
import { Button } from "../../ui/Button";
import { SettledMain } from "../../ui/Settled";
import { type Hang, InstallDialog, type Place } from "./InstallDialog";
import { hoursText, InstalledLampCard } from "./InstalledLampCard";
import { InstalledLampDialog } from "./InstalledLampDialog";

const STALE = ["register", "plans", "today", "tasks"];

type Open =
  | { kind: "hang"; place: Place | null; lamp: InstalledLampStatus | null }
  | { kind: "edit"; lamp: InstalledLamp; known: boolean }
  | null;
/** A lamp was hung, and readings of its enclosure are due again. */
type After = { plan: PlanSummary; hung: InstallationResult } | null;

/** Every lamp as a thing: where it hangs, what it still gives, until when the plan holds, and the spares. */
export function RegisterScreen() {
  const on = isoDay();
  const notify = useNotify();
  const navigate = useNavigate();
  const register = useQuery({
    queryKey: ["register", on],
    queryFn: () => fetchRegister(on),
    staleTime: 0,
  });
  const plans = useQuery({ queryKey: ["plans"], queryFn: fetchPlans });
  const catalog = useQuery({ queryKey: ["catalog"], queryFn: fetchCatalog, staleTime: Infinity });
  const [open, setOpen] = useState<Open>(null);
  const [after, setAfter] = useState<After>(null);
  useEffect(() => {
    document.title = "Lamp register · Noon Shade";
  }, []);
  const lamps = register.data?.installed_lamps ?? [];
  const enclosures = plans.data ?? [];
  const here = enclosures.filter((p) => unitsOf(lamps, p.id).length > 0);
  // One after another: each looks three years ahead.
  const [asked, setAsked] = useState(0);
  const forecasts = useQueries({
    queries: here.map((plan, i) => ({
      queryKey: [
        "lamp-forecast",
        plan.id,
        plan.revision,
        on,
        JSON.stringify(unitsOf(lamps, plan.id)),
      ],
      queryFn: ({ signal }: { signal: AbortSignal }) => fetchLampForecast(plan.id, on, signal),
      staleTime: Infinity,
      retry: false,
      enabled: i <= asked,
    })),
  });
  const settled = forecasts.findIndex((o) => !o.isSuccess && !o.isError);
  useEffect(() => setAsked(settled < 0 ? here.length : settled), [settled, here.length]);

  const begin = useAction(
    ({ plan, hung }: NonNullable<After>) => startRound(plan.id, hung.due),
    (round, { plan }) => navigate(`/plans/${plan.id}/rounds/${round.id}`),
  );
  const runQueued = useQueuedMutation(STALE);
  const hang = ({ lamp, fresh, place, on: day, old }: Hang) =>
    runQueued(async () => {
      if (fresh) await putInstalledLamp(lamp);
      const hung = await installLamp(lamp.id, { ...place, on: day, old });
      const plan = enclosures.find((p) => p.id === place.plan_id);
      if (plan) setAfter({ plan, hung });
    });
  const down = async (known: InstalledLampStatus) => {
    const place = known.installations.find((h) => h.ended_on === null);
    if (!(await runQueued(() => takeDown(known.installed_lamp.id, on, false))) || !place) return;
    notify({
      title: `${known.installed_lamp.label} was taken down and is a spare`,
      tone: "plain",
      action: {
        label: "Hang it back",
        run: () =>
          void runQueued(() =>
            installLamp(known.installed_lamp.id, {
              plan_id: place.plan_id,
              fixture_id: place.fixture_id,
              on,
              old: "spare",
            }),
          ),
      },
    });
  };
  const remove = async (lamp: InstalledLamp) => {
    setOpen(null);
    if (!(await runQueued(() => removeInstalledLamp(lamp.id)))) return;
    notify({
      title: `${lamp.label} was removed from the register`,
      tone: "plain",
      action: { label: "Put it back", run: () => void runQueued(() => putInstalledLamp(lamp)) },
    });
  };
  const card = (known: InstalledLampStatus, place: Place | null = null) => (
    <InstalledLampCard
      key={known.installed_lamp.id}
      known={known}
      {...(place
        ? {
            onReplace: () => setOpen({ kind: "hang", place, lamp: null }),
            onDown: () => void down(known),
          }
        : {})}
      onMove={() => setOpen({ kind: "hang", place: null, lamp: known })}
      onEdit={() => setOpen({ kind: "edit", lamp: known.installed_lamp, known: true })}
    />
  );
  const spares = lamps.filter((u) => u.state === "spare");
  const retired = lamps.filter((u) => u.state === "retired");
  const loose = register.data?.unregistered ?? [];
  const error = register.error ?? plans.error ?? catalog.error;
  return (
    <div className="flex min-h-screen flex-col">
      <Header />
      <SettledMain className="mx-auto w-full max-w-6xl flex-1 space-y-4 p-3 sm:p-4">
        <div className="flex flex-wrap items-center gap-3">
          <h1 className="flex-1 text-2xl font-semibold">Lamp register</h1>
          <Link
            to="/lamps"
            className="inline-flex min-h-6 items-center text-sm text-accent underline"
          >
            To the lamps
          </Link>
          <Button
            disabled={!catalog.data}
            onClick={() =>
              setOpen({
                kind: "edit",
                known: false,
                lamp: {
                  id: freshId(),
                  label: "",
                  lamp_id: catalog.data?.lamps[0]?.id ?? "",
                  power_w: catalog.data?.lamps[0]?.power_w ?? 50,
                  installed_on: null,
                  hours_before: 0,
                  retired_on: null,
                  note: "",
                },
              })
            }
          >
            <Plus size={17} aria-hidden /> Add a spare
          </Button>
        </div>
        {error && (
          <p role="alert" className="text-high">
            {describe(error).title}: {describe(error).detail}
          </p>
        )}
        {after && (
          <AfterHanging
            after={after}
            onRound={() => begin.mutate(after)}
            onClose={() => setAfter(null)}
          />
        )}
        {register.data && loose.length > 0 && (
          <section
            aria-label="Not registered"
            className="flex flex-wrap items-center gap-3 rounded-xl border border-dashed border-edge p-4"
            data-testid="unregistered"
          >
            <Lightbulb size={28} aria-hidden className="text-accent" />
            <p className="min-w-64 flex-1">
              <strong>
                {loose.length} lamp{loose.length > 1 ? "s" : ""} of your enclosures{" "}
                {loose.length > 1 ? "are" : "is"} not registered.
              </strong>{" "}
              <span className="text-soft">
                Once registered, their hours are counted from today, by their timers.
              </span>
            </p>
            <Button
              tone="strong"
              onClick={() =>
                void runQueued(() => registerLamps(on, [...new Set(loose.map((l) => l.plan_id))]))
              }
            >
              Register them
            </Button>
          </section>
        )}
        {here.map((plan, i) => {
          const mine = unitsOf(lamps, plan.id);
          const behind = mine.some((u) => Math.abs((u.plan_hours ?? u.hours) - u.hours) > 50);
          return (
            <section
              key={plan.id}
              aria-label={plan.name}
              className="rounded-xl border border-line bg-panel p-4"
              data-testid={`register-${plan.id}`}
            >
              <h2 className="text-lg font-semibold">
                <Link to={`/plans/${plan.id}`} className="inline-flex items-center hover:underline">
                  {plan.name}
                </Link>
              </h2>
              {/* As high before its answer, so that nothing moves when that comes. */}
              <div className="min-h-24 sm:min-h-7">
                <Until forecast={forecasts[i]?.data} waiting={forecasts[i]?.isPending ?? true} />
              </div>
              {forecasts[i]?.error && (
                <p className="text-sm text-high">{describe(forecasts[i]?.error).detail}</p>
              )}
              {behind && (
                <p className="mt-1 flex flex-wrap items-center gap-2 text-sm">
                  <span className="text-soft">
                    The plan has different hours (
                    {mine
                      .map((u) => `${u.installed_lamp.label} ${hoursText(u.plan_hours ?? 0)}`)
                      .join(", ")}
                    ): its checks assume lamps of that age.
                  </span>
                  <Button
                    size="small"
                    onClick={() => void runQueued(() => setLampHours(plan.id, on))}
                  >
                    Bring the plan up to date
                  </Button>
                </p>
              )}
              <ul className="divide-y divide-line">
                {mine.map((u) => {
                  const h = u.installations.find((x) => x.ended_on === null);
                  return card(u, h ? { plan_id: h.plan_id, fixture_id: h.fixture_id } : null);
                })}
              </ul>
            </section>
          );
        })}
        {register.data && (
          <section aria-label="Spares" className="rounded-xl border border-line bg-panel p-4">
            <h2 className="text-lg font-semibold">Spares</h2>
            {spares.length === 0 && (
              <p className="text-soft">
                None. Bulbs fail when shops are closed: keep one of each kind that matters.
              </p>
            )}
            <ul className="divide-y divide-line">{spares.map((u) => card(u))}</ul>
          </section>
        )}
        {retired.length > 0 && (
          <details className="rounded-xl border border-line bg-panel p-4">
            <summary className="font-semibold">Thrown away ({retired.length})</summary>
            <ul className="divide-y divide-line">{retired.map((u) => card(u))}</ul>
          </details>
        )}
        <p className="text-sm text-soft">
          Hours follow the timers of the plans. The UV a lamp still gives is a prediction for its
          kind until you measure it with a UV meter.
        </p>
      </SettledMain>
      {open?.kind === "hang" && catalog.data && (
        <InstallDialog
          place={open.place}
          lamp={open.lamp}
          lamps={lamps}
          plans={enclosures}
          catalog={catalog.data}
          onInstall={hang}
          onClose={() => setOpen(null)}
        />
      )}
      {open?.kind === "edit" && catalog.data && (
        <InstalledLampDialog
          lamp={open.lamp}
          known={open.known}
          catalog={catalog.data}
          onSave={async (lamp) => {
            const before = open.known ? open.lamp : null;
            const done = await runQueued(() => putInstalledLamp(lamp));
            if (done && before) {
              notify({
                title: `${lamp.label} was changed`,
                tone: "plain",
                action: {
                  label: "Undo",
                  run: () => void runQueued(() => putInstalledLamp(before)),
                },
              });
            }
            return done;
          }}
          onRemove={() => void remove(open.lamp)}
          onClose={() => setOpen(null)}
        />
      )}
    </div>
  );
}

/** Lamps that hang in an enclosure now. */
const unitsOf = (lamps: readonly InstalledLampStatus[], planId: string) =>
  lamps.filter((u) => u.installations.some((h) => h.ended_on === null && h.plan_id === planId));

/** Until when the plan meets its UV need: the most important figure of an enclosure here. */
function Until({
  forecast,
  waiting,
}: {
  forecast: Shortfall | null | undefined;
  waiting: boolean;
}) {
  if (waiting) return <p className="text-soft">Looking three years ahead…</p>;
  if (forecast === undefined) return null;
  if (forecast === null) {
    return <p className="text-sm text-soft">No UV need that depends on the age of a lamp.</p>;
  }
  const { day, earliest, latest, need_low, value } = forecast;
  const figures = `UV index ${fixed(value, 1)} now, at least ${fixed(need_low, 1)} needed`;
  if (forecast.short_now) {
    return (
      <p data-testid="until" className="text-lg font-semibold text-high">
        ! Gives too little UV already <span className="text-sm font-normal">({figures})</span>
      </p>
    );
  }
  return (
    <p data-testid="until" className="text-lg">
      {day ? (
        <>
          Meets its UV need until about <strong>{dayText(day)}</strong>
        </>
      ) : (
        <strong>Meets its UV need for three years and more</strong>
      )}{" "}
      <span className="text-sm text-soft">
        (likely {spanWords(earliest, latest)}; {figures})
      </span>
    </p>
  );
}

/** From when to when something is likely; null is later than is looked ahead. */
function spanWords(earliest: string | null, latest: string | null): string {
  const far = "more than three years from now";
  const words = (day: string | null) =>
    day === null ? far : day === isoDay() ? "today" : dayText(day);
  return earliest === latest ? words(earliest) : `between ${words(earliest)} and ${words(latest)}`;
}

interface AfterProps {
  after: NonNullable<After>;
  onRound: () => void;
  onClose: () => void;
}

function AfterHanging({ after: { plan, hung }, onRound, onClose }: AfterProps) {
  return (
    <section
      aria-label="Due again"
      className="rounded-xl border-2 border-accent bg-panel p-4"
      data-testid="due-again"
    >
      <h2 className="text-lg font-semibold">Hung in {plan.name}</h2>
      <p>
        {hung.readings_due > 0
          ? `${hung.readings_due} readings of this enclosure no longer hold. `
          : "No two lamps are alike. "}
        Read UV and heat at its places again before the animal is trusted to it; a new tube runs
        high for its first hundred hours.
      </p>
      <div className="mt-2 flex flex-wrap gap-2">
        {hung.due.length > 0 && (
          <Button tone="strong" onClick={onRound}>
            Take these readings
          </Button>
        )}
        <Button onClick={onClose}>Later</Button>
      </div>
    </section>
  );
}
