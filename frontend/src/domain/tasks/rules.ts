/** Rules by which tasks come back, built from plain choices and described in words. */

export type Unit = "once" | "day" | "week" | "month" | "year";

export interface Choices {
  readonly unit: Unit;
  readonly count: number;
  /** MO, TU…, for weeks only. */
  readonly days: readonly string[];
}

export const WEEKDAYS = ["MO", "TU", "WE", "TH", "FR", "SA", "SU"] as const;
const FREQUENCY: Record<Exclude<Unit, "once">, string> = {
  day: "DAILY",
  week: "WEEKLY",
  month: "MONTHLY",
  year: "YEARLY",
};

/** "Monday" for MO. The first of January 2024 was one. */
export function weekday(code: string, width: "long" | "short" = "long"): string {
  const i = WEEKDAYS.indexOf(code as (typeof WEEKDAYS)[number]);
  return new Date(2024, 0, 1 + i, 12).toLocaleDateString([], { weekday: width });
}

export function ruleOf({ unit, count, days }: Choices): string {
  if (unit === "once") return "";
  const parts = [`FREQ=${FREQUENCY[unit]}`];
  if (count > 1) parts.push(`INTERVAL=${count}`);
  if (unit === "week" && days.length > 0) {
    parts.push(`BYDAY=${WEEKDAYS.filter((d) => days.includes(d)).join(",")}`);
  }
  return parts.join(";");
}

/** The choices of a rule; null for one that was made elsewhere and says more than they can. */
export function choicesOf(rule: string): Choices | null {
  if (rule === "") return { unit: "once", count: 1, days: [] };
  const parts = new Map(rule.split(";").map((p) => p.split("=") as [string, string]));
  const unit = (Object.keys(FREQUENCY) as Exclude<Unit, "once">[]).find(
    (u) => FREQUENCY[u] === parts.get("FREQ"),
  );
  const days = (parts.get("BYDAY") ?? "").split(",").filter(Boolean);
  const known = ["FREQ", "INTERVAL", "BYDAY"];
  const plain = [...parts.keys()].every((k) => known.includes(k));
  const named = days.every((d) => (WEEKDAYS as readonly string[]).includes(d));
  if (!unit || !plain || !named || (days.length > 0 && unit !== "week")) return null;
  return { unit, count: Number(parts.get("INTERVAL") ?? 1), days };
}

/** "every 2 weeks on Monday and Thursday". */
export function ruleText(rule: string, afterDone: boolean): string {
  const found = choicesOf(rule);
  if (!found) return `by the rule ${rule}`;
  if (found.unit === "once") return "once";
  const each = found.count === 1 ? `every ${found.unit}` : `every ${found.count} ${found.unit}s`;
  const days = found.days.map((d) => weekday(d));
  const on = days.length > 0 ? ` on ${days.join(", ").replace(/, ([^,]*)$/, " and $1")}` : "";
  return `${each}${on}${afterDone ? ", counted from when it was done" : ""}`;
}
