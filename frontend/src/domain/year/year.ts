/** Pure edits of the year of a plan, and its days. */
import type { MonthChecked, MonthOffer, PlanDocument, Year, YearWeek } from "../../api/types";
import { thermostatsOf } from "../plan/document";
import { fixed } from "../units/units";

export const WEEKS = 52;

/** The first day of a week of a year; weeks count from the first of January. */
export const firstDay = (week: number, year: number) => new Date(year, 0, 1 + 7 * (week - 1), 12);

/** The week a day is in. */
export function weekOf(day: Date): number {
  const start = new Date(day.getFullYear(), 0, 1, 12).getTime();
  const noon = new Date(day.getFullYear(), day.getMonth(), day.getDate(), 12).getTime();
  return Math.min(WEEKS, Math.floor(Math.round((noon - start) / 86_400_000) / 7) + 1);
}

/** The months by name, January first. */
export const MONTH_NAMES = [
  "January",
  "February",
  "March",
  "April",
  "May",
  "June",
  "July",
  "August",
  "September",
  "October",
  "November",
  "December",
] as const;

/** The month the middle of a week is in, 1 to 12, as the model counts it. */
export const monthOf = (week: number) => new Date(2025, 0, 4 + 7 * (week - 1)).getMonth() + 1;

export const monthName = (month: number, width: "long" | "short" = "long"): string => {
  const name = MONTH_NAMES[month - 1] ?? "";
  return width === "long" ? name : name.slice(0, 3);
};

/** A word for how wet ground is, 0 dry to 1 like open water, as the model's own words. */
export function dampness(wetness: number): string {
  if (wetness <= 0) return "dry";
  if (wetness <= 0.06) return "barely damp";
  if (wetness <= 0.2) return "damp";
  return wetness <= 0.4 ? "moist" : "wet";
}

/** "June to August", "April", "December to February". */
export function spanText(months: readonly number[]): string {
  const first = monthName(months[0] ?? 1);
  const last = months.at(-1) ?? 1;
  return months.length > 1 ? `${first} to ${monthName(last)}` : first;
}

export const withYear = (d: PlanDocument, year: Year): PlanDocument => ({ ...d, year });

type Own = Partial<Pick<YearWeek, "photoperiod_h" | "day_shift_k" | "night_shift_k" | "misting">>;

/** The year with something set otherwise in some weeks. */
export function withWeeks(year: Year, weeks: readonly number[], change: Own): Year {
  const old = new Map((year.weeks ?? []).map((w) => [w.week, w]));
  for (const week of weeks) {
    const before = old.get(week) ?? {
      week,
      photoperiod_h: null,
      day_shift_k: null,
      night_shift_k: null,
      misting: null,
    };
    old.set(week, { ...before, ...change });
  }
  return { ...year, weeks: [...old.values()].sort((a, b) => a.week - b.week) };
}

/** The year with a week as it is computed. */
export const withoutWeek = (year: Year, week: number): Year => ({
  ...year,
  weeks: (year.weeks ?? []).filter((w) => w.week !== week),
});

/** The year with a fix that a month was offered, taken for some months that follow each other. */
export function withOffer(
  d: PlanDocument,
  year: Year,
  months: readonly number[],
  offer: MonthOffer,
): Year {
  if (offer.kind === "power") {
    const swap = {
      fixture_id: offer.part_id,
      from_month: months[0] ?? 1,
      to_month: months.at(-1) ?? 1,
      power_w: offer.value,
    };
    return { ...year, swaps: [...(year.swaps ?? []), swap].slice(-20) };
  }
  const thermostat = thermostatsOf(d).find((t) => t.id === offer.part_id);
  const planned =
    offer.period === "night" ? thermostat?.night_set_point_c : thermostat?.day_set_point_c;
  const shift = Number(fixed(offer.value - (planned ?? offer.value), 2));
  const weeks = Array.from({ length: WEEKS }, (_, i) => i + 1).filter((w) =>
    months.includes(monthOf(w)),
  );
  return withWeeks(
    year,
    weeks,
    offer.period === "night" ? { night_shift_k: shift } : { day_shift_k: shift },
  );
}

export interface MonthGroup {
  readonly months: readonly number[];
  readonly checked: MonthChecked;
}

/** Months one after another in which the same fails and the same fixes it; the year goes round. */
export function grouped(checked: readonly MonthChecked[]): MonthGroup[] {
  const bad = checked.filter((c) => c.failing === null || c.failing.length > 0);
  const sign = (c: MonthChecked) =>
    JSON.stringify([c.failing?.map((f) => f.id), c.fix?.offer ?? c.fix?.sentence]);
  const found: { months: number[]; checked: MonthChecked }[] = [];
  for (const one of bad) {
    const last = found.at(-1);
    if (last && last.months.at(-1) === one.month - 1 && sign(last.checked) === sign(one)) {
      last.months.push(one.month);
    } else {
      found.push({ months: [one.month], checked: one });
    }
  }
  const [first, last] = [found[0], found.at(-1)];
  if (first && last && first !== last && first.months[0] === 1 && last.months.at(-1) === 12) {
    if (sign(first.checked) === sign(last.checked)) {
      found.shift();
      last.months.push(...first.months);
    }
  }
  return found;
}
