/** What a design sets differently by season, as a keeper reads it: months in a row with all that is set. */

import type { SetUp } from "../../api/types";
import { show, showWater, type UnitSystem } from "../units/units";
import { spanText } from "../year/year";

type Change = SetUp["changes_by_month"][number];

export interface Season {
  /** Months that follow each other, past December too. */
  readonly months: readonly number[];
  readonly said: readonly string[];
}

const MONTHS = Array.from({ length: 12 }, (_, i) => i + 1);

const covers = (c: Change, month: number) =>
  c.from_month <= c.to_month
    ? c.from_month <= month && month <= c.to_month
    : month >= c.from_month || month <= c.to_month;

function words(c: Change, units: UnitSystem): string[] {
  if (c.thermostat_id != null) {
    const dial = (point: number | null | undefined) =>
      point == null ? "off" : show(point, "temperature", units);
    return [`${c.label}: ${dial(c.day_c)} by day, ${dial(c.night_c)} by night`];
  }
  const vents = c.vents_cm2 == null ? null : c.vents_cm2 / 1e4;
  return careWords(c.litres, c.ground, vents, units);
}

/** How it is sprayed, watered and aired; null where it is as planned. */
export function careWords(
  litres: number | null | undefined,
  ground: string | null | undefined,
  ventsM2: number | null | undefined,
  units: UnitSystem,
): string[] {
  return [
    litres != null && `Spray ${showWater(litres, units)} each time`,
    ground != null && `Keep the ground ${ground}`,
    ventsM2 != null && `Open the vents ${show(ventsM2, "area", units)} in all`,
  ].filter((one): one is string => typeof one === "string");
}

/** Months in a row that are set alike, around the year; those as planned are left out. */
export function seasonsOf(changes: readonly Change[], units: UnitSystem): Season[] {
  const said = MONTHS.map((month) =>
    changes.filter((c) => covers(c, month)).flatMap((c) => words(c, units)),
  );
  const found: { months: number[]; said: string[] }[] = [];
  for (const month of MONTHS) {
    const now = said[month - 1] ?? [];
    if (now.length === 0) continue;
    const last = found.at(-1);
    if (last?.months.at(-1) === month - 1 && last.said.join() === now.join()) {
      last.months.push(month);
    } else {
      found.push({ months: [month], said: now });
    }
  }
  const [first, last] = [found[0], found.at(-1)];
  if (
    found.length > 1 &&
    first?.months[0] === 1 &&
    last?.months.at(-1) === 12 &&
    first.said.join() === last.said.join()
  ) {
    // The winter is one season.
    return [...found.slice(1, -1), { months: [...last.months, ...first.months], said: last.said }];
  }
  return found;
}

/** "June to September", "January", "All year". */
export const seasonName = (months: readonly number[]): string =>
  months.length === 12 ? "All year" : spanText(months);
