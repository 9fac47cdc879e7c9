/** Which puzzles were solved on this device, and with how many readings. */
const KEY = "practice-solved";

export function solved(): Readonly<Record<string, number>> {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? "{}") as Record<string, number>;
  } catch {
    return {};
  }
}

/** Store the fewest readings a puzzle was solved with. */
export function storeSolved(id: string, readings: number): void {
  const before = solved();
  const best = Math.min(before[id] ?? readings, readings);
  try {
    localStorage.setItem(KEY, JSON.stringify({ ...before, [id]: best }));
  } catch {
    // Private windows may refuse; the puzzle can be solved again.
  }
}
