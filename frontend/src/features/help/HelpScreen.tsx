import { useEffect, useState } from "react";
import { Link, useLocation } from "react-router";
import { Header } from "../../app/Header";
import { Keys } from "../../app/KeysSheet";
import { matching } from "../../domain/glossary";
import { SearchField } from "../../ui/SearchField";

const STEPS: readonly { title: string; text: string }[] = [
  {
    title: "Plan",
    text: "Start a plan from the animal, or open the sample enclosure. Drag lamps and things in the drawing; the checks follow. Open a check to see why it fails and what was computed to help.",
  },
  {
    title: "Build",
    text: "“To build” below the drawing lists what to buy, in which order to build, and the cautions for heat, mains and water.",
  },
  {
    title: "Measure",
    text: "Run the enclosure without the animal. Take the readings the program proposes and enter them: it says what was met, and adjusts the model to your lamps and room.",
  },
  {
    title: "Keep",
    text: "Set thermostats and lamps by month, replace lamps when they are old, tick off tasks, write the logbook, make backups.",
  },
];

/** How to go about it, what the words mean, all keys. */
export function HelpScreen() {
  const [search, setSearch] = useState("");
  const groups = matching(search);
  const { hash } = useLocation();
  useEffect(() => {
    document.title = "Help · Noon Shade";
  }, []);
  useEffect(() => {
    if (hash) document.getElementById(hash.slice(1))?.scrollIntoView({ block: "center" });
  }, [hash]);
  return (
    <div className="min-h-screen">
      <Header />
      <main className="mx-auto max-w-6xl p-4">
        <h1 className="text-2xl font-semibold">Help</h1>
        <section aria-labelledby="steps-title" className="mt-3">
          <h2 id="steps-title" className="sr-only">
            From a plan to an animal that is well
          </h2>
          <ol className="grid gap-3 sm:grid-cols-2 lg:grid-cols-4">
            {STEPS.map(({ title, text }, i) => (
              <li key={title} className="rounded-xl border border-line bg-panel p-4">
                <p className="font-semibold">
                  {i + 1}. {title}
                </p>
                <p className="mt-1 text-sm">{text}</p>
              </li>
            ))}
          </ol>
          <p className="mt-3 text-sm">
            <Link to="/sample" className="font-semibold text-accent underline">
              Open the sample enclosure
            </Link>{" "}
            to try all of it, or{" "}
            <Link to="/practice" className="font-semibold text-accent underline">
              practise finding faults
            </Link>{" "}
            with simulated instruments.
          </p>
          <p className="mt-2 max-w-prose text-sm text-soft">
            Figures are predictions until you have measured them. Wiring follows local electrical
            code and a qualified electrician; an animal that looks ill belongs to a veterinarian who
            knows reptiles.
          </p>
        </section>
        <div className="mt-6 grid gap-6 lg:grid-cols-[2fr_1fr]">
          <section aria-labelledby="words-title">
            <div className="flex flex-wrap items-end justify-between gap-3">
              <h2 id="words-title" className="text-xl font-semibold">
                Words
              </h2>
              <div className="w-64">
                <SearchField
                  label="Find a word"
                  hidden
                  placeholder="Find a word"
                  value={search}
                  onChange={setSearch}
                />
              </div>
            </div>
            {groups.length === 0 && (
              <p role="status" className="mt-3 text-soft">
                No word matches “{search.trim()}”.
              </p>
            )}
            {groups.map(({ group, terms }) => (
              <section key={group} aria-label={group} className="mt-3">
                <h3 className="font-semibold text-soft">{group}</h3>
                <dl className="mt-1 divide-y divide-line rounded-xl border border-line bg-panel px-4">
                  {terms.map(({ id, term, text, source }) => (
                    <div
                      key={id}
                      id={id}
                      className="grid gap-x-4 py-2 target:bg-wash sm:grid-cols-[12rem_1fr]"
                    >
                      <dt className="font-medium">{term}</dt>
                      <dd>
                        {text}
                        {source && <span className="block text-sm text-soft">{source}</span>}
                      </dd>
                    </div>
                  ))}
                </dl>
              </section>
            ))}
          </section>
          <section aria-labelledby="keys-title">
            <h2 id="keys-title" className="text-xl font-semibold">
              Keys
            </h2>
            <p className="mb-3 text-sm text-soft">“?” shows them on any screen.</p>
            <Keys />
          </section>
        </div>
      </main>
    </div>
  );
}
