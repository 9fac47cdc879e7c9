import type { PlanDocument, Year, YearBrumation } from "../../api/types";
import { dayText } from "../../domain/logbook/days";
import { careWords } from "../../domain/plan/seasons";
import { show } from "../../domain/units/units";
import { dampness, firstDay, monthName, spanText } from "../../domain/year/year";
import { Button } from "../../ui/Button";
import { CheckField } from "../../ui/CheckField";
import { GRID } from "../../ui/grid";
import { Help } from "../../ui/Help";
import { NumberFields, type NumberRow } from "../../ui/NumberFields";
import { usePreferences } from "../../ui/preferences";

interface YearSettingsProps {
  document: PlanDocument;
  year: Year;
  usual: Year;
  onChange: (year: Year, summary: string) => void;
}

const REST: YearBrumation = {
  begins_week: 50,
  weeks: 8,
  ramp_weeks: 2,
  low_c: 8,
  high_c: 14,
  light_h: 0,
};

/** What follows the home's seasons, and by how much. */
const rowsOf = (document: PlanDocument): readonly NumberRow<Year>[] => [
  {
    key: "days_follow",
    label: "Of the home's day length",
    dimension: "share",
    min: 0,
    max: 1,
    usual: 1,
    summary: () => "Day length over the year",
    help: (
      <Help about="day length over the year">
        100 %: days as long as at home, week by week. 0 %: the plan's {document.photoperiod_h ?? 12}{" "}
        h all year. Many animals eat, rest and breed by day length.
      </Help>
    ),
  },
  {
    key: "day_swing_k",
    label: "Set by day, lower in the coolest week by",
    dimension: "difference",
    min: 0,
    max: 15,
    summary: () => "Set points by day over the year",
  },
  {
    key: "night_swing_k",
    label: "Set by night, lower in the coolest week by",
    dimension: "difference",
    min: 0,
    max: 15,
    summary: () => "Set points by night over the year",
  },
  ...((document.mistings ?? []).length > 0
    ? [
        {
          key: "misting_follow",
          label: "Misting follows the home's rain by",
          dimension: "share",
          min: 0,
          max: 1,
          summary: () => "Misting over the year",
        } as const,
      ]
    : []),
];

const restRows = (rest: YearBrumation): readonly NumberRow<YearBrumation>[] => [
  { key: "weeks", label: "It lasts", dimension: "weeks", min: 1, max: 40, whole: true },
  {
    key: "ramp_weeks",
    label: "Weeks down and up again, each",
    dimension: "weeks",
    min: 0,
    max: 6,
    usual: 2,
    whole: true,
  },
  { key: "low_c", label: "At least", dimension: "temperature", min: -5, max: rest.high_c - 0.5 },
  { key: "high_c", label: "At most", dimension: "temperature", min: rest.low_c + 0.5, max: 30 },
  { key: "light_h", label: "Light in the rest, a day", dimension: "duration", min: 0, max: 16 },
];

/** How the enclosure goes through the year: what of the home's seasons is copied, and the rest. */
export function YearSettings({ document, year, usual, onChange }: YearSettingsProps) {
  const put = (part: Partial<Year>, summary: string) => onChange({ ...year, ...part }, summary);
  const rest = year.brumation ?? null;
  const putRest = (part: Partial<YearBrumation>) =>
    rest && put({ brumation: { ...rest, ...part } }, "The winter rest");
  return (
    <div className={GRID}>
      <NumberFields rows={rowsOf(document)} of={year} onCommit={put} />
      <CheckField
        label="Seasons shifted by half a year"
        checked={year.shifted ?? false}
        onChange={(shifted) => put({ shifted }, "Seasons turned")}
        help={
          <Help about="turned seasons">
            For an animal from the other hemisphere: its summer then falls into the summer of your
            room.
          </Help>
        }
      />
      <CheckField
        label="Lamps keep winter time"
        checked={year.standard_time ?? false}
        onChange={(standard_time) => put({ standard_time }, "Lamps keep winter time")}
        help={
          <Help about="winter time">
            When the clocks change, the animal’s day does not; the card and the calendar show clock
            time.
          </Help>
        }
      />
      <CheckField
        label="A winter rest"
        checked={rest !== null}
        onChange={(on) =>
          put(
            { brumation: on ? (usual.brumation ?? REST) : null },
            on ? "A winter rest" : "No winter rest",
          )
        }
        help={
          <Help about="the winter rest">
            Only for healthy adults of good weight, of species that rest in the wild, and with an
            empty gut. Ask a veterinarian who knows reptiles before the first one.
          </Help>
        }
      />
      {rest && (
        <>
          <label className="block text-sm text-soft">
            Rest begins
            <select
              value={rest.begins_week}
              onChange={(e) => putRest({ begins_week: Number(e.target.value) })}
              className="block h-9 rounded-md border border-edge bg-raised px-2 font-medium text-ink"
            >
              {Array.from({ length: 52 }, (_, i) => i + 1).map((w) => (
                <option key={w} value={w}>
                  {dayText(firstDay(w, new Date().getFullYear()))}
                </option>
              ))}
            </select>
          </label>
          <NumberFields rows={restRows(rest)} of={rest} onCommit={putRest} />
        </>
      )}
      <MonthSettings document={document} year={year} put={put} />
      <MonthCare document={document} year={year} put={put} />
      {(year.swaps ?? []).length > 0 && (
        <div className="text-sm">
          <p className="text-soft">Bulbs changed</p>
          <ul>
            {(year.swaps ?? []).map((swap, i) => {
              const fixture = (document.fixtures ?? []).find((f) => f.id === swap.fixture_id);
              return (
                <li
                  key={`${swap.fixture_id} ${swap.from_month} ${swap.to_month} ${swap.power_w}`}
                  className="flex items-center gap-2"
                >
                  <span>
                    {fixture?.label ?? swap.fixture_id}: {swap.power_w} W,{" "}
                    {monthName(swap.from_month)} to {monthName(swap.to_month)}
                  </span>
                  <Button
                    size="small"
                    aria-label={`No other bulb: ${fixture?.label ?? swap.fixture_id}`}
                    onClick={() =>
                      put(
                        { swaps: (year.swaps ?? []).filter((_, k) => k !== i) },
                        "No other bulb over the year",
                      )
                    }
                  >
                    No other bulb
                  </Button>
                </li>
              );
            })}
          </ul>
        </div>
      )}
    </div>
  );
}

interface MonthSettingsProps {
  document: PlanDocument;
  year: Year;
  put: (part: Partial<Year>, summary: string) => void;
}

/** What thermostats are set to in some months in place of the plan's set points. */
function MonthSettings({ document, year, put }: MonthSettingsProps) {
  const { units } = usePreferences();
  const settings = year.settings ?? [];
  if (settings.length === 0) return null;
  const dial = (c: number | null | undefined) =>
    c == null ? "off" : show(c, "temperature", units);
  return (
    <div className="text-sm" data-testid="month-settings">
      <p className="text-soft">Thermostats set differently</p>
      <ul>
        {settings.map((one, i) => {
          const label =
            (document.thermostats ?? []).find((t) => t.id === one.thermostat_id)?.label ??
            one.thermostat_id;
          return (
            <li
              key={`${one.thermostat_id} ${one.from_month}`}
              className="flex flex-wrap items-center gap-2"
            >
              <span>
                {label}: {dial(one.day_c)} by day, {dial(one.night_c)} by night,{" "}
                {monthName(one.from_month)}
                {one.to_month !== one.from_month && ` to ${monthName(one.to_month)}`}
              </span>
              <Button
                size="small"
                aria-label={`As planned: ${label}, ${monthName(one.from_month)}`}
                onClick={() =>
                  put({ settings: settings.filter((_, k) => k !== i) }, "A thermostat as planned")
                }
              >
                As planned
              </Button>
            </li>
          );
        })}
      </ul>
    </div>
  );
}

/** How it is sprayed, watered and aired in some months in place of the plan's ways. */
function MonthCare({ document, year, put }: MonthSettingsProps) {
  const { units } = usePreferences();
  const care = year.care ?? [];
  if (care.length === 0) return null;
  const litres = Math.max(0, ...(document.mistings ?? []).map((m) => m.litres));
  const vents = (document.enclosure.vents ?? []).reduce((sum, v) => sum + v.area_m2, 0);
  return (
    <div className="text-sm" data-testid="month-care">
      <p className="text-soft">Sprays, ground and vents in some months</p>
      <ul>
        {care.map((one, i) => {
          const said = careWords(
            one.misting !== 1 && litres > 0 ? litres * (one.misting ?? 1) : null,
            one.wetness == null ? null : dampness(one.wetness),
            one.vents !== 1 && vents > 0 ? vents * (one.vents ?? 1) : null,
            units,
          );
          const months = spanText([...new Set([one.from_month, one.to_month])]);
          return (
            <li key={one.from_month} className="flex flex-wrap items-center gap-2">
              <span>
                {months}: {said.join(", ") || "as planned"}
              </span>
              <Button
                size="small"
                aria-label={`As planned: ${months}`}
                onClick={() => put({ care: care.filter((_, k) => k !== i) }, "Care as planned")}
              >
                As planned
              </Button>
            </li>
          );
        })}
      </ul>
    </div>
  );
}
