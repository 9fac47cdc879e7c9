import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { fetchSample } from "../../api/client";
import type { Catalog } from "../../api/types";
import { TightThumbnail } from "../../canvas/Thumbnail";

const STEPS: readonly { title: string; text: string }[] = [
  {
    title: "Name the animal",
    text: "Its needs come with it: basking spot, cool end, UV, night, humidity.",
  },
  {
    title: "Describe your room",
    text: "How warm and damp it is by day and by night. Keep the enclosure you have, or let one be chosen.",
  },
  {
    title: "Choose a set-up",
    text: "Several are computed that meet every need. Each says what to buy and what it costs to run.",
  },
];

const LATER: readonly { title: string; text: string }[] = [
  {
    title: "This room",
    text: "Every enclosure on its rack: what fails, the next hard month, which lamp is old.",
  },
  {
    title: "Today",
    text: "Feeding, misting, cleaning and weighing for each animal, ticked off with one touch.",
  },
  {
    title: "Logbook",
    text: "Meals, sheds, weights and visits to the veterinarian, found again by a word.",
  },
];

interface WelcomeProps {
  catalog: Catalog | null;
  /** Other ways to begin. */
  children: ReactNode;
}

/** The room before there is an enclosure in it. */
export function Welcome({ catalog, children }: WelcomeProps) {
  const sample = useQuery({ queryKey: ["sample"], queryFn: fetchSample, staleTime: Infinity });
  return (
    <div data-testid="welcome" className="mx-auto max-w-5xl">
      <div className="grid gap-4 md:grid-cols-[3fr_2fr]">
        <section
          aria-labelledby="own-title"
          className="flex flex-col rounded-xl border border-line bg-panel p-5"
        >
          <h2 id="own-title" className="text-lg font-semibold">
            Plan your first enclosure in about two minutes
          </h2>
          <ol className="mt-3 space-y-3">
            {STEPS.map(({ title, text }, i) => (
              <li key={title} className="flex gap-3">
                <span
                  aria-hidden
                  className="grid size-7 shrink-0 place-items-center rounded-full bg-wash font-semibold"
                >
                  {i + 1}
                </span>
                <p>
                  <b className="font-semibold">{title}.</b>{" "}
                  <span className="text-soft">{text}</span>
                </p>
              </li>
            ))}
          </ol>
          <p className="mt-auto flex flex-wrap gap-2 pt-4">
            <Link
              to="/new"
              className="inline-flex min-h-11 items-center rounded-md bg-accent px-5 font-medium text-accent-ink hover:opacity-90"
            >
              Plan an enclosure
            </Link>
            {children}
          </p>
        </section>
        <section
          aria-labelledby="sample-title"
          className="flex flex-col rounded-xl border border-line bg-panel p-5"
        >
          <h2 id="sample-title" className="text-lg font-semibold">
            Or look around first
          </h2>
          <div className="mt-3 aspect-[2/1] overflow-hidden rounded-md border border-line">
            {sample.data && <TightThumbnail document={sample.data.document} catalog={catalog} />}
          </div>
          <p className="mt-2 text-soft">
            A sample enclosure in which everything fits. Change what you like: it can be reset.
          </p>
          <p className="mt-auto pt-4">
            <Link
              to="/sample"
              className="inline-flex min-h-11 items-center rounded-md border border-edge bg-raised px-5 font-medium hover:bg-wash"
            >
              Open the sample
            </Link>
          </p>
        </section>
      </div>
      <section aria-labelledby="later-title" className="mt-6">
        <h2 id="later-title" className="font-semibold text-soft">
          What will be here
        </h2>
        <ul className="mt-2 grid gap-3 md:grid-cols-3">
          {LATER.map(({ title, text }) => (
            <li key={title} className="rounded-xl border border-dashed border-edge p-4">
              <p className="font-semibold">{title}</p>
              <p className="text-sm text-soft">{text}</p>
            </li>
          ))}
        </ul>
      </section>
    </div>
  );
}
