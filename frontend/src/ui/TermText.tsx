import { Link } from "react-router";
import { termOf } from "../domain/glossary";

/** What a word of the glossary means, and where more of them are. */
export function TermText({ id }: { id: string }) {
  const term = termOf(id);
  if (!term) return null;
  return (
    <>
      <p className="font-semibold">{term.term}</p>
      <p className="mt-1">{term.text}</p>
      {term.source && <p className="mt-1 text-soft">{term.source}</p>}
      <p className="mt-2">
        <Link to={`/help#${id}`} className="text-accent underline">
          All words
        </Link>
      </p>
    </>
  );
}
