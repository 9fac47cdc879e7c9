import { type ReactNode, useEffect, useState } from "react";
import { Button } from "../ui/Button";

const KEY = "tour";

/** Each stop: the part of the screen it is about, and what a newcomer should know of it. */
const STOPS: readonly { at: string; title: string; text: string }[] = [
  {
    at: "drawing",
    title: "The enclosure, to scale",
    text: "Point at it, or touch it, to read every quantity there. Lamps, stones, hides, vents, the probe and the ground can be dragged, or chosen with Tab and moved with the arrow keys. What does not fit is hatched.",
  },
  {
    at: "checks",
    title: "What it needs, what it gets",
    text: "The worst is first. Open a line for the reason, how sure it is, and changes that were computed to help. Try one: undo takes it back.",
  },
  {
    at: "settings",
    title: "What is selected",
    text: "Everything about the selected lamp, furnishing or wall can be typed here, in any unit. The picture follows.",
  },
  {
    at: "drawer",
    title: "The day, the year, what if",
    text: "Pull up the day from night to night, all conditions of the year, what happens when something breaks, and the list of what to buy and build.",
  },
  {
    at: "top",
    title: "One enclosure, four places",
    text: "Plan it, measure it, keep it right, or have it designed anew. Every change is saved as a revision that can be opened again; “Export” makes a report, a picture or a file.",
  },
  {
    at: "checks",
    title: "Predictions, until you measure",
    text: "These figures are computed. Run the empty enclosure for some days and measure before an animal moves in.",
  },
];

function remembered(): boolean {
  try {
    return localStorage.getItem(KEY) === "done";
  } catch {
    return true;
  }
}

interface TourInvitationProps {
  /** Said instead of the invitation, and always; with it, the tour can be taken again. */
  words?: ReactNode;
  /** Buttons beside those of the tour. */
  actions?: ReactNode;
}

/** For those who are here for the first time: a short tour, or none. */
export function TourInvitation({ words, actions }: TourInvitationProps) {
  const [done, setDone] = useState(remembered);
  const [stop, setStop] = useState<number | null>(null);
  const finish = () => {
    setDone(true);
    setStop(null);
    try {
      localStorage.setItem(KEY, "done");
    } catch {
      // Where nothing can be remembered, it is offered again the next time.
    }
  };
  const here = stop === null ? null : (STOPS[stop] ?? null);
  useEffect(() => {
    const part = here && document.getElementById(here.at);
    if (!part) return;
    part.dataset.toured = "true";
    part.scrollIntoView({ block: "nearest" });
    return () => {
      delete part.dataset.toured;
    };
  }, [here]);
  if (done && !words && stop === null) return null;
  return (
    <section
      aria-label="Tour"
      className="no-print flex flex-wrap items-center gap-x-4 gap-y-2 border-b border-line bg-wash px-4 py-1.5"
      data-testid="tour"
    >
      <div className="min-w-64 flex-1" aria-live="polite">
        {here && stop !== null ? (
          <>
            <h2 className="font-semibold">
              {stop + 1} of {STOPS.length}: {here.title}
            </h2>
            <p className="text-sm">{here.text}</p>
          </>
        ) : words ? (
          words
        ) : (
          <p>
            <b className="font-semibold">Here for the first time?</b> A tour of this screen in{" "}
            {STOPS.length} short stops.
          </p>
        )}
      </div>
      <div className="flex gap-2">
        {stop !== null && stop > 0 && (
          <Button size="small" onClick={() => setStop(stop - 1)}>
            Back
          </Button>
        )}
        {stop !== STOPS.length - 1 ? (
          <>
            {(stop !== null || !words) && (
              <Button size="small" tone="quiet" onClick={finish}>
                Skip it
              </Button>
            )}
            <Button
              size="small"
              tone={words && stop === null ? "plain" : "strong"}
              onClick={() => setStop(stop === null ? 0 : stop + 1)}
            >
              {stop === null ? "Take the tour" : "Next"}
            </Button>
          </>
        ) : (
          <Button size="small" tone="strong" onClick={finish}>
            Done
          </Button>
        )}
        {stop === null && actions}
      </div>
    </section>
  );
}
