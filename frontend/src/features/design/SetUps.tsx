import type { Catalog, Conflict, DesignResult, SetUp } from "../../api/types";
import { isUnsure } from "../../domain/plan/setUp";
import { Button } from "../../ui/Button";
import { Phrase } from "../plan/Phrase";
import { SetUpCard } from "./SetUpCard";

interface SetUpsProps {
  result: DesignResult;
  catalog: Catalog | null;
  busy: boolean;
  onTake: (setUp: SetUp) => void;
  onAgain: () => void;
}

/** What a design came to: set-ups side by side, and what prevents it. */
export function SetUps({ result, catalog, busy, onTake, onAgain }: SetUpsProps) {
  const { set_ups, conflicts } = result;
  const best = set_ups[0];
  return (
    <section aria-labelledby="set-ups" data-testid="set-ups">
      <div className="flex flex-wrap items-baseline justify-between gap-3">
        <h2 id="set-ups" tabIndex={-1} className="text-2xl font-semibold outline-none">
          {headline(set_ups)}
        </h2>
        <Button onClick={onAgain}>Change the request</Button>
      </div>
      <p className="mt-1 text-sm text-soft">
        {result.candidates_screened.toLocaleString("en")} candidates screened and {result.evaluated}{" "}
        computed with the full model, in {Math.round(result.seconds)} s
        {result.stopped && ", then stopped"}. All figures are predictions until measured.
      </p>
      {conflicts.length > 0 && <Conflicts conflicts={conflicts} best={best} />}
      <ol className="mt-4 grid grid-cols-1 gap-4 md:grid-cols-2 xl:grid-cols-3">
        {set_ups.map((one, i) => (
          <SetUpCard
            key={`${one.label} ${one.kwh_month}`}
            setUp={one}
            first={i === 0}
            catalog={catalog}
            busy={busy}
            onTake={() => onTake(one)}
          />
        ))}
      </ol>
      <p className="mt-4 border-t border-line pt-3 text-sm text-soft">
        Fittings, guards and wiring follow local electrical code and a qualified electrician; ask a
        veterinarian who knows reptiles about the animal. Run it for a week and measure it before
        the animal moves in.
      </p>
    </section>
  );
}

function headline(setUps: readonly SetUp[]): string {
  if (setUps.length === 0) return "No set-up was found";
  const allYear = setUps.filter((s) => s.fits_all_year && s.months.length > 0).length;
  if (allYear > 0)
    return allYear > 1 ? `${allYear} set-ups that fit all year` : "A set-up that fits all year";
  const fit = setUps.filter((s) => s.fits).length;
  if (fit > 0) return fit > 1 ? `${fit} set-ups that fit now` : "A set-up that fits now";
  if (setUps[0] && isUnsure(setUps[0])) return "A set-up in range, but uncertain: measure it";
  return "No set-up meets every need; this is the nearest";
}

interface ConflictsProps {
  conflicts: readonly Conflict[];
  best: SetUp | undefined;
}

function Conflicts({ conflicts, best }: ConflictsProps) {
  const unsure = best !== undefined && isUnsure(best);
  return (
    <div className="mt-3 rounded-lg border border-high bg-high-wash p-3" data-testid="conflicts">
      <p className="font-semibold text-high">
        {best?.fits
          ? "It does not fit all year"
          : unsure
            ? "What is uncertain"
            : "What prevents it"}
      </p>
      <ul className="mt-1 space-y-1.5">
        {conflicts.map((c) => (
          <li key={c.id}>
            <Phrase parts={c.sentence} />{" "}
            <span className="text-soft">
              <Phrase parts={c.way_out} />
            </span>
          </li>
        ))}
      </ul>
    </div>
  );
}
