import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link } from "react-router";
import { fetchPuzzles } from "../../api/practice";
import { ErrorPage } from "../../app/ErrorPage";
import { Header } from "../../app/Header";
import { describe } from "../../app/notices";
import { SettledMain } from "../../ui/Settled";
import { solved } from "./solvedPuzzles";

/** The practice bench: enclosures in which something is wrong, the easiest first. */
export function PracticeScreen() {
  const puzzles = useQuery({ queryKey: ["puzzles"], queryFn: fetchPuzzles, staleTime: Infinity });
  useEffect(() => {
    window.document.title = "Practice · Noon Shade";
  }, []);
  if (puzzles.error) return <ErrorPage {...describe(puzzles.error)} />;
  const done = solved();
  return (
    <>
      <Header />
      <SettledMain className="mx-auto max-w-4xl p-4">
        <h1 className="text-2xl font-semibold">Practice bench</h1>
        <p className="mt-1 text-soft">
          Enclosures of the Millrace room in which something is not as planned. Take readings with
          simulated instruments, find out what it is and fix it; the model explains it afterwards.
        </p>
        {puzzles.isPending && (
          <p className="mt-4 text-soft" aria-busy="true">
            Setting up the bench…
          </p>
        )}
        <ol className="mt-4 grid gap-3 sm:grid-cols-2">
          {puzzles.data?.map((p) => (
            <li key={p.id}>
              <Link
                to={`/practice/${p.id}`}
                className="block h-full rounded-xl border border-line bg-panel p-4 hover:bg-wash"
              >
                <h2 className="flex items-baseline justify-between gap-2 font-semibold">
                  {p.title}
                  <span className="text-sm font-normal whitespace-nowrap text-soft">
                    level {p.level}
                  </span>
                </h2>
                <p className="mt-1 text-sm">{p.story}</p>
                <p className="mt-2 text-sm">
                  {done[p.id] === undefined ? (
                    <span className="text-soft">not solved yet</span>
                  ) : (
                    <span className="text-fit">● solved with {done[p.id]} readings</span>
                  )}
                </p>
              </Link>
            </li>
          ))}
        </ol>
      </SettledMain>
    </>
  );
}
