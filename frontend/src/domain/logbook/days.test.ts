import { describe, expect, it } from "vitest";
import type { LogEntry } from "../../api/types";
import { dayText, isoDay, noonOf } from "./days";
import { headline, isWorry } from "./kinds";

describe("days of the calendar", () => {
  it("are those of the place, from midnight to midnight", () => {
    expect(isoDay(new Date(2026, 2, 9, 0, 0, 1))).toBe("2026-03-09");
    expect(isoDay(new Date(2026, 10, 29, 23, 59, 59))).toBe("2026-11-29");
  });

  it("stay the same day at noon, also when clocks are shifted", () => {
    for (const day of ["2026-03-29", "2026-10-25", "2026-01-01"]) {
      expect(isoDay(noonOf(day))).toBe(day);
    }
  });

  it("name the year only where it is another", () => {
    const now = new Date(2026, 5, 1);
    expect(dayText("2026-03-14", now)).not.toContain("2026");
    expect(dayText("2025-03-14", now)).toContain("2025");
    expect(dayText("2026-03-14T08:00:00Z", now)).toBe(dayText("2026-03-14", now));
  });
});

describe("logbook entries", () => {
  const entry = (part: Partial<LogEntry>): LogEntry =>
    ({ kind: "note", value: null, food: "", outcome: "", text: "", ...part }) as LogEntry;

  it.each([
    [entry({ kind: "weight", value: 41.5 }), "41.5 g"],
    [entry({ kind: "length", value: 0.104 }), "10.4 cm"],
    [entry({ kind: "meal", food: "crickets", outcome: "refused" }), "crickets: refused"],
    [entry({ kind: "shed", outcome: "incomplete" }), "Shed, not complete"],
    [entry({ kind: "note" }), "Note"],
  ])("are summed up in a line", (one, text) => {
    expect(headline(one, "metric")).toBe(text);
  });

  it("worry the keeper when the animal is ill, refuses food or keeps old skin", () => {
    expect(isWorry(entry({ kind: "illness" }))).toBe(true);
    expect(isWorry(entry({ kind: "meal", outcome: "refused" }))).toBe(true);
    expect(isWorry(entry({ kind: "shed", outcome: "incomplete" }))).toBe(true);
    expect(isWorry(entry({ kind: "meal", outcome: "eaten" }))).toBe(false);
  });
});
