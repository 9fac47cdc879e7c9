/** Days of the calendar as the keeper has them, and as they are sent. */

/** The day of a moment here, as 2026-03-14. */
export function isoDay(at = new Date()): string {
  const pad = (n: number) => String(n).padStart(2, "0");
  return `${at.getFullYear()}-${pad(at.getMonth() + 1)}-${pad(at.getDate())}`;
}

/** A day as a moment at noon here, so that no shift of the clock moves it to another day. */
export const noonOf = (day: string) => new Date(`${day}T12:00:00`);

/** "14 March 2026", or without the year if it is this one. */
export function dayText(day: string | Date, now = new Date()): string {
  const at = typeof day === "string" ? noonOf(day.slice(0, 10)) : day;
  return at.toLocaleDateString([], {
    day: "numeric",
    month: "long",
    ...(at.getFullYear() === now.getFullYear() ? {} : { year: "numeric" }),
  });
}

export const timeText = (moment: string) =>
  new Date(moment).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" });
