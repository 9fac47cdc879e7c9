import type { Evaluation } from "../../api/types";
import { fixed, showWater, type UnitSystem } from "../../domain/units/units";
import { Help } from "../../ui/Help";
import { usePreferences } from "../../ui/preferences";

type Use = Evaluation["water"][number];

const LONGEST_DAYS = 30;

/** How each damp part and each pool dries, and when it is watered again. */
export function WateringTable({ evaluation }: { evaluation: Evaluation | null }) {
  const { units } = usePreferences();
  const uses = evaluation?.water ?? [];
  return (
    <section aria-labelledby="watering" className="mt-5" data-testid="watering">
      <h3 id="watering" className="flex items-center gap-1 font-semibold">
        What dries, and how to water it
        <Help about="watering">
          What each part gives off in a day, in the room as it is now; a drier room in winter takes
          more. Damp ground is watered again when it has lost half of what makes it damp. Pour
          slowly, and let the surface dry before the next time.
        </Help>
      </h3>
      {uses.length === 0 ? (
        <p className="text-sm text-soft">
          {evaluation ? "Nothing in this plan is damp, and there is no water." : "Computing…"}
        </p>
      ) : (
        <ul className="text-sm">
          {uses.map((use) => (
            <li
              key={use.id}
              className="border-t border-line py-1.5"
              data-testid={`dries-${use.id}`}
            >
              <b className="font-semibold">{use.label}</b>: {wateringWords(use, units)}
            </li>
          ))}
        </ul>
      )}
      <p className="mt-1 text-sm text-soft">Predicted; look at it and feel it before you pour.</p>
    </section>
  );
}

/** Water to two digits: what is poured is not known better. */
const about = (litres: number, units: UnitSystem): string =>
  showWater(Number(litres.toPrecision(2)), units);

/** One line: how much, how often, and what it loses. */
export function wateringWords(use: Use, units: UnitSystem): string {
  const lost = `it loses ${about(use.lost_l_day, units)} a day`;
  if (use.every_days === null || use.pour_l === null)
    return `spraying brings it enough (${lost}, and gets ${about(use.sprayed_l_day, units)})`;
  const spray =
    use.sprayed_l_day > 0 ? `, and gets ${about(use.sprayed_l_day, units)} by spraying` : "";
  if (use.kind === "pool")
    return `top up ${about(use.pour_l, units)} a day (it holds ${about(use.held_l, units)})`;
  const pour = about(use.pour_l, units);
  if (use.every_days >= LONGEST_DAYS)
    return `look at it once a month; then about ${pour} (${lost}${spray})`;
  const days = use.every_days < 1.5 ? "every day" : `every ${fixed(use.every_days, 0)} days`;
  return `about ${pour} ${days} (${lost}${spray})`;
}
