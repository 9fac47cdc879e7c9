/** The plan under which the server stores the sample enclosure. */
export const SAMPLE_ID = "sample";

const VISITED = "visited";

/** Whether this browser has been here before; where nothing can be remembered, it has. */
export function isFirstVisit(): boolean {
  try {
    return localStorage.getItem(VISITED) === null;
  } catch {
    return false;
  }
}

export function rememberVisit(): void {
  try {
    localStorage.setItem(VISITED, "yes");
  } catch {
    // The sample is offered again the next time.
  }
}
