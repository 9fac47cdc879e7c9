import { Link, useRouteError } from "react-router";
import { Header } from "./Header";
import { describe } from "./notices";

/** Shown for an unknown address, and when a screen failed. */
export function ErrorPage({ title, detail }: { title?: string; detail?: string }) {
  const error = useRouteError();
  const problem = error ? describe(error) : null;
  return (
    <>
      <Header />
      <main className="mx-auto max-w-xl p-8">
        <h1 className="text-2xl font-semibold">
          {title ?? problem?.title ?? "There is nothing at this address"}
        </h1>
        <p className="mt-2 text-soft">{detail ?? problem?.detail ?? "The page may have moved."}</p>
        <p className="mt-4">
          <Link to="/" className="font-semibold text-accent underline">
            Back to the room
          </Link>
        </p>
      </main>
    </>
  );
}
