/** What the words of the screens mean; the same in the report. */
import glossary from "../shared/glossary.json";

export interface Term {
  readonly id: string;
  readonly term: string;
  readonly text: string;
  /** Where a figure in it comes from. */
  readonly source?: string;
}

export interface TermGroup {
  readonly group: string;
  readonly terms: readonly Term[];
}

export const GLOSSARY: readonly TermGroup[] = glossary;

/** One term; undefined if there is none of that id. */
export const termOf = (id: string): Term | undefined =>
  GLOSSARY.flatMap((g) => g.terms).find((t) => t.id === id);

/** The groups with the terms that have all words of a search. */
export function matching(search: string): TermGroup[] {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  return GLOSSARY.map(({ group, terms }) => ({
    group,
    terms: terms.filter(({ term, text }) => {
      const all = `${term} ${text}`.toLowerCase();
      return words.every((word) => all.includes(word));
    }),
  })).filter(({ terms }) => terms.length > 0);
}
