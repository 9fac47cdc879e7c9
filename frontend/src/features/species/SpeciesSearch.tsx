import { useQuery } from "@tanstack/react-query";
import { Search } from "lucide-react";
import { type KeyboardEvent, useEffect, useId, useState } from "react";
import { findSpecies } from "../../api/client";

interface SpeciesSearchProps {
  label: string;
  onChoose: (id: string, name: string) => void;
}

const MOST = 20;

/** Find a species by any of its names; a name that several share asks which is meant. */
export function SpeciesSearch({ label, onChoose }: SpeciesSearchProps) {
  const id = useId();
  const [text, setText] = useState("");
  const [asked, setAsked] = useState("");
  const [at, setAt] = useState(-1);
  useEffect(() => {
    const timer = setTimeout(() => setAsked(text.trim()), 150);
    return () => clearTimeout(timer);
  }, [text]);
  const answer = useQuery({
    queryKey: ["species-find", asked],
    queryFn: ({ signal }) => findSpecies(asked, signal),
    enabled: asked.length > 0,
  });
  const found = asked ? (answer.data?.found ?? []).slice(0, MOST) : [];
  const total = answer.data?.found.length ?? 0;
  const open = asked.length > 0 && answer.data !== undefined;
  const choose = (index: number) => {
    const hit = found[index];
    if (!hit) return;
    setText("");
    setAsked("");
    setAt(-1);
    onChoose(hit.id, hit.common_name);
  };
  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>) => {
    const last = found.length - 1;
    const step: Record<string, number> = {
      ArrowDown: at >= last ? 0 : at + 1,
      ArrowUp: at <= 0 ? last : at - 1,
    };
    const next = step[event.key];
    if (next !== undefined && found.length > 0) {
      event.preventDefault();
      setAt(next);
      document.getElementById(`${id}-${next}`)?.scrollIntoView({ block: "nearest" });
    } else if (event.key === "Enter" && open) {
      // One alone needs no arrow.
      event.preventDefault();
      choose(at >= 0 ? at : found.length === 1 ? 0 : -1);
    } else if (event.key === "Escape" && text) {
      event.preventDefault();
      setText("");
      setAsked("");
      setAt(-1);
    }
  };
  return (
    <div className="min-w-0">
      <label htmlFor={id} className="text-sm text-soft">
        {label}
      </label>
      <div className="relative">
        <Search
          size={16}
          aria-hidden
          className="pointer-events-none absolute top-2.5 left-2.5 text-soft"
        />
        <input
          id={id}
          type="text"
          role="combobox"
          aria-expanded={open && found.length > 0}
          aria-controls={`${id}-list`}
          aria-autocomplete="list"
          aria-activedescendant={at >= 0 && found.length > 0 ? `${id}-${at}` : undefined}
          autoComplete="off"
          value={text}
          placeholder="Scientific or common name"
          onChange={(e) => {
            setText(e.target.value);
            setAt(-1);
          }}
          onKeyDown={onKeyDown}
          className="h-9 w-full rounded-md border border-edge bg-raised pr-2 pl-8"
        />
      </div>
      {open && (
        <div className="mt-1 rounded-md border border-edge bg-raised" data-testid="species-found">
          <p className="px-3 pt-2 text-sm" role="status">
            {found.length === 0
              ? `No species is known as “${asked}”. You can add your own under Species.`
              : answer.data?.ambiguous
                ? `Several species are called “${asked}”. Which is it?`
                : `${total} found`}
          </p>
          <div
            id={`${id}-list`}
            role="listbox"
            aria-label="Species found"
            className="max-h-64 overflow-y-auto p-1"
          >
            {found.map((hit, i) => (
              <div
                key={hit.id}
                id={`${id}-${i}`}
                role="option"
                tabIndex={-1}
                aria-selected={i === at}
                className={`cursor-pointer rounded px-2 py-1.5 hover:bg-wash ${i === at ? "bg-wash outline-2 outline-accent" : ""}`}
                onClick={() => choose(i)}
                onKeyDown={(e) => {
                  if (e.key === "Enter") choose(i);
                }}
              >
                <i>{hit.scientific_name}</i>{" "}
                <span className="text-soft">
                  {hit.common_name}
                  {hit.by === "synonym" && `, once ${hit.name}`}
                  {hit.by === "everyday name" && `, also “${hit.name}”`}
                  {hit.by === "a name much like it" && `: did you mean “${hit.name}”?`}
                </span>
              </div>
            ))}
          </div>
        </div>
      )}
    </div>
  );
}
