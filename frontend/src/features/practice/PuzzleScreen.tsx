import { useQuery } from "@tanstack/react-query";
import clsx from "clsx";
import { type PointerEvent, useEffect, useState } from "react";
import { Link, useParams } from "react-router";
import { fetchCatalog } from "../../api/client";
import { answerPuzzle, fetchPuzzle, readDisplay, readPuzzle } from "../../api/practice";
import type {
  Catalog,
  Expected,
  Puzzle,
  PuzzleAnswer,
  Reading,
  ReadingKind,
} from "../../api/types";
import { ErrorPage } from "../../app/ErrorPage";
import { Header } from "../../app/Header";
import { describe } from "../../app/notices";
import { useAction } from "../../app/useAction";
import { headroom, projection } from "../../canvas/projection";
import { Contents } from "../../canvas/Thumbnail";
import { KIND, needsPlace, valueText } from "../../domain/readings/kinds";
import { needFormat, type Quantity, quantityWords } from "../../domain/units/needs";
import { show, type UnitSystem } from "../../domain/units/units";
import { Button } from "../../ui/Button";
import { CheckField } from "../../ui/CheckField";
import { usePreferences } from "../../ui/preferences";
import { SelectField } from "../../ui/SelectField";
import { Phrase } from "../plan/Phrase";
import { ReadingComparison } from "../readings/ReadingComparison";
import { storeSolved } from "./solvedPuzzles";

type At = NonNullable<Reading["at_m"]>;

interface Taken {
  key: string;
  kind: ReadingKind;
  place: string;
  at_m: At | null;
  value: number;
  expected: Expected;
}

/** One puzzle: the plan, the instruments, the suspects, and at the end what it was. */
export function PuzzleScreen() {
  const { puzzleId = "" } = useParams();
  const puzzle = useQuery({
    queryKey: ["puzzle", puzzleId],
    queryFn: () => fetchPuzzle(puzzleId),
    staleTime: Infinity,
  });
  const catalog = useQuery({ queryKey: ["catalog"], queryFn: fetchCatalog, staleTime: Infinity });
  const error = puzzle.error ?? catalog.error;
  if (error) return <ErrorPage {...describe(error)} />;
  return (
    <>
      <Header />
      {puzzle.data && catalog.data ? (
        <Bench key={puzzleId} puzzle={puzzle.data} catalog={catalog.data} />
      ) : (
        <main aria-busy="true" className="p-8 text-soft">
          <h1 className="sr-only">Practice</h1>
          Setting up the enclosure…
        </main>
      )}
    </>
  );
}

function Bench({ puzzle, catalog }: { puzzle: Puzzle; catalog: Catalog }) {
  const [taken, setTaken] = useState<readonly Taken[]>([]);
  const [causes, setCauses] = useState<readonly string[]>([]);
  const [answer, setAnswer] = useState<PuzzleAnswer | null>(null);
  useEffect(() => {
    window.document.title = `${puzzle.title} · Practice · Noon Shade`;
  }, [puzzle.title]);
  const number = taken.length;
  const read = useAction(
    ({ kind, at_m, hold }: { kind: ReadingKind; place: string; at_m: At | null; hold: Hold }) =>
      readPuzzle(puzzle.id, { kind, at_m, number, ...hold }),
    (found, { kind, place, at_m }) =>
      setTaken((all) => [...all, { key: `${number}`, kind, place, at_m, ...found }]),
  );
  const fix = useAction(
    () =>
      answerPuzzle(puzzle.id, {
        causes: [...causes],
        readings: taken.map(({ kind, at_m, value }) => ({ kind, at_m, value })),
      }),
    (found) => {
      setAnswer(found);
      if (found.right) storeSolved(puzzle.id, taken.length);
    },
  );
  const busy = read.isPending || fix.isPending;
  return (
    <main className="mx-auto grid max-w-6xl gap-4 p-3 lg:grid-cols-[minmax(0,1fr)_25rem]">
      <div className="lg:col-span-2">
        <Link to="/practice" className="text-sm text-accent underline">
          All puzzles
        </Link>
        <h1 className="text-2xl font-semibold">{puzzle.title}</h1>
        <p>{puzzle.story}</p>
        <p className="text-sm text-soft">
          {puzzle.count === 1
            ? "One thing is not as in the plan."
            : `${puzzle.count} things are not as in the plan.`}{" "}
          The instruments are common ones, each a little off in its own way.
        </p>
      </div>
      <div className="min-w-0 space-y-4">
        <Instruments
          puzzle={puzzle}
          catalog={catalog}
          busy={busy}
          onRead={(kind, place, at_m, hold) => read.mutate({ kind, place, at_m, hold })}
        />
        <section
          aria-label="What you have read"
          className="rounded-xl border border-line bg-panel p-4"
          data-testid="taken"
        >
          <h2 className="font-semibold">What you have read ({taken.length})</h2>
          {taken.length === 0 && (
            <p className="text-sm text-soft">
              Begin with the room, then go from the ground up. A reading that is as planned helps as
              much as one that is not.
            </p>
          )}
          <ul className="divide-y divide-line">
            {[...taken].reverse().map((t) => (
              <Line key={t.key} taken={t} />
            ))}
          </ul>
        </section>
      </div>
      <section
        aria-label="What is wrong"
        className="h-fit space-y-3 rounded-xl border border-line bg-panel p-4"
      >
        <h2 className="font-semibold">What is wrong?</h2>
        {puzzle.choices.map((c) => (
          <CheckField
            key={c.id}
            label={c.label}
            checked={causes.includes(c.id)}
            onChange={(on) => {
              setAnswer(null);
              setCauses((all) => (on ? [...all, c.id] : all.filter((x) => x !== c.id)));
            }}
          />
        ))}
        <Button
          tone="strong"
          className="min-h-11 w-full"
          disabled={causes.length === 0 || busy}
          onClick={() => fix.mutate()}
        >
          {causes.length === 1
            ? (puzzle.choices.find((c) => c.id === causes[0])?.fix ?? "Fix it")
            : "Fix these"}
        </Button>
        {answer && <Outcome puzzle={puzzle} answer={answer} count={taken.length} />}
      </section>
    </main>
  );
}

function Line({ taken: t }: { taken: Taken }) {
  const { units } = usePreferences();
  return (
    <li className="py-2 text-sm">
      <p className="flex items-baseline justify-between gap-3">
        <span>
          <strong>{t.place}</strong> <span className="text-soft">{KIND[t.kind]}</span>
        </span>
        <span className="text-base font-semibold whitespace-nowrap">
          {valueText(t.value, t.kind, units)}
        </span>
      </p>
      <ReadingComparison value={t.value} expected={t.expected} kind={t.kind} />
    </li>
  );
}

/** How instruments are placed and set. */
interface Hold {
  shaded: boolean;
  distance_m: number;
  emissivity: number;
}
const AWAY = [0.05, 0.15, 0.5, 1.5];
const EMISSIVITY = [0.95, 0.9, 0.8, 0.7];

interface InstrumentsProps {
  puzzle: Puzzle;
  catalog: Catalog;
  busy: boolean;
  onRead: (kind: ReadingKind, place: string, at: At | null, hold: Hold) => void;
}

const FREE: readonly ReadingKind[] = ["surface", "air", "uvi_facing", "humidity"];

/** Which instrument, and where it is placed: at a named place, or anywhere in the drawing. */
function Instruments({ puzzle, catalog, busy, onRead }: InstrumentsProps) {
  const { document } = puzzle;
  const [kind, setKind] = useState<ReadingKind>("surface");
  const { units } = usePreferences();
  const [hold, setHold] = useState<Hold>({ shaded: true, distance_m: 0.15, emissivity: 0.95 });
  const tall = document.enclosure.height_m > document.enclosure.length_m;
  const p = projection(document.enclosure, headroom(document), 400, tall ? 360 : 240);
  const ground = document.substrate.depth_m;
  const tap = (event: PointerEvent<SVGSVGElement>) => {
    if (busy || !needsPlace(kind)) return;
    const frame = event.currentTarget.getBoundingClientRect();
    const scale = 400 / frame.width;
    const x = p.toX((event.clientX - frame.left) * scale);
    const z = p.toZ((event.clientY - frame.top) * scale);
    const inside = (v: number, low: number, high: number) => Math.min(high, Math.max(low, v));
    onRead(
      kind,
      "Where you pointed",
      {
        x_m: inside(x, 0, document.enclosure.length_m),
        y_m: document.enclosure.depth_m / 2,
        z_m: inside(z, ground + 0.001, document.enclosure.height_m),
      },
      hold,
    );
  };
  const places = puzzle.places.filter((t) => t.kind === kind);
  const kinds = [...new Set([...FREE, ...puzzle.places.map((t) => t.kind)])];
  return (
    <section aria-label="Instruments" className="rounded-xl border border-line bg-panel p-4">
      <div className="flex flex-wrap items-end gap-4">
        <SelectField
          label="Read"
          value={kind}
          onChange={(k) => setKind(k as ReadingKind)}
          options={kinds.map((k) => ({ value: k, label: KIND[k] }))}
        />
        {kind === "air" && (
          <CheckField
            label="Probe shaded with a card"
            checked={hold.shaded}
            onChange={(shaded) => setHold((h) => ({ ...h, shaded }))}
          />
        )}
        {kind === "surface" && (
          <>
            <SelectField
              label="From a distance of"
              value={String(hold.distance_m)}
              onChange={(d) => setHold((h) => ({ ...h, distance_m: Number(d) }))}
              options={AWAY.map((d) => ({
                value: String(d),
                label: show(d, "length", units, 0),
              }))}
            />
            <SelectField
              label="Emissivity set to"
              value={String(hold.emissivity)}
              onChange={(e) => setHold((h) => ({ ...h, emissivity: Number(e) }))}
              options={EMISSIVITY.map((e) => ({ value: String(e), label: e.toFixed(2) }))}
            />
          </>
        )}
      </div>
      <svg
        viewBox={`0 0 400 ${p.height}`}
        className={clsx(
          "mt-3 block w-full touch-manipulation rounded-md bg-air",
          needsPlace(kind) && "cursor-crosshair",
        )}
        role="img"
        aria-label="The enclosure as planned; point where to read"
        data-testid="bench-enclosure"
        onPointerUp={tap}
      >
        <Contents document={document} catalog={catalog} p={p} />
      </svg>
      <div className="mt-2 flex flex-wrap gap-1.5">
        {places.map((t) => (
          <Button
            key={t.id}
            size="small"
            disabled={busy}
            onClick={() => onRead(kind, t.place, t.at_m, hold)}
          >
            {t.place}
          </Button>
        ))}
        {needsPlace(kind) && (
          <span className="self-center text-sm text-soft">or point in the drawing</span>
        )}
      </div>
      <details className="mt-2 text-sm">
        <summary className="text-soft">The instruments on the bench</summary>
        <ul className="mt-1 list-disc pl-5">
          {puzzle.instruments.map((i) => (
            <li key={i.kind}>
              {i.kind}: shows {i.kind === "hygrometer" ? "whole per cents" : `steps of ${i.digit}`},
              four readings in five within ± {offText(i.kind, i.likely_off, units)}; checked{" "}
              {i.calibrated}
            </li>
          ))}
        </ul>
      </details>
      {(document.thermostats ?? []).map((t) => (
        <Display key={t.id} puzzleId={puzzle.id} id={t.id} label={t.label} />
      ))}
    </section>
  );
}

function offText(kind: string, off: number, units: UnitSystem): string {
  const share = kind === "UV meter" || kind === "hygrometer";
  return share ? `${(100 * off).toFixed(0)} %` : show(off, "difference", units, 1);
}

interface DisplayProps {
  puzzleId: string;
  id: string;
  label: string;
}

/** The display of a thermostat: it knows no more than where its probe lies. */
function Display({ puzzleId, id, label }: DisplayProps) {
  const { units } = usePreferences();
  const look = useAction(({ hour }: { hour: number; when: string }) =>
    readDisplay(puzzleId, id, hour),
  );
  const value = look.data;
  const text =
    value === undefined
      ? null
      : value === null
        ? "it is off"
        : show(value, "temperature", units, 1);
  const seen = text && `${look.variables?.when}: ${text}`;
  return (
    <p className="mt-3 flex flex-wrap items-center gap-2 border-t border-line pt-3 text-sm">
      <strong>{label}’s display</strong>
      <Button size="small" onClick={() => look.mutate({ hour: 15, when: "by day" })}>
        By day
      </Button>
      <Button size="small" onClick={() => look.mutate({ hour: 4, when: "by night" })}>
        By night
      </Button>
      {seen && <span role="status">{seen}</span>}
    </p>
  );
}

interface OutcomeProps {
  puzzle: Puzzle;
  answer: PuzzleAnswer;
  count: number;
}

/** Whether it was that; if it was, what it was, how it shows, and what a fit makes of the readings. */
function Outcome({ puzzle, answer, count }: OutcomeProps) {
  const { units } = usePreferences();
  const [shown, setShown] = useState(false);
  const revealed = answer.right || shown;
  const figure = (quantity: string, value: number | null) => {
    const format = needFormat(quantity as Quantity, units);
    return value === null ? "–" : `${format.figure(value)}${format.unit}`;
  };
  const moved = answer.figures.filter(
    (f) =>
      f.planned !== null &&
      f.was !== null &&
      Math.abs(f.was - f.planned) > 0.03 * Math.max(Math.abs(f.planned), 0.3),
  );
  return (
    <div className="space-y-3 text-sm" data-testid="outcome" data-right={answer.right}>
      <p
        role="status"
        className={clsx(
          "border-l-4 px-3 py-2 font-semibold",
          answer.right ? "border-fit bg-fit-wash" : "border-high bg-high-wash",
        )}
      >
        {answer.right
          ? `Found, with ${count} ${count === 1 ? "reading" : "readings"}: the enclosure is as planned again.`
          : "After that fix the enclosure is still not as planned. Read on."}
      </p>
      <table className="w-full">
        <thead className="text-left text-soft">
          <tr>
            <th className="font-normal">Figure</th>
            <th className="pl-2 text-right font-normal">Planned</th>
            <th className="pl-2 text-right font-normal">Was</th>
            <th className="pl-2 text-right font-normal">Now</th>
          </tr>
        </thead>
        <tbody>
          {moved.map((f) => (
            <tr key={`${f.place_label}${f.quantity}`} className="border-t border-line">
              <th className="py-1 text-left font-normal">
                {f.place_label} {quantityWords(f.place_label, f.quantity as Quantity)}
              </th>
              <td className="pl-2 text-right">{figure(f.quantity, f.planned)}</td>
              <td className="pl-2 text-right">{figure(f.quantity, f.was)}</td>
              <td className="pl-2 text-right font-semibold">{figure(f.quantity, f.now)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {revealed ? (
        <div>
          {answer.causes.map((cause, i) => (
            <p key={cause} className="mt-1">
              <strong>{puzzle.choices.find((c) => c.id === cause)?.label}.</strong>{" "}
              {answer.tells[i]}
            </p>
          ))}
          {answer.fit.length > 0 && (
            <>
              <h3 className="mt-2 font-semibold">What a fit makes of your readings</h3>
              <ul className="list-disc pl-5">
                {answer.fit.map((phrase) => (
                  <li key={JSON.stringify(phrase)}>
                    <Phrase parts={phrase} />
                  </li>
                ))}
              </ul>
            </>
          )}
        </div>
      ) : (
        <Button size="small" onClick={() => setShown(true)}>
          Show what it is
        </Button>
      )}
    </div>
  );
}
