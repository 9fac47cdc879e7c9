import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { findSpecies } from "../../api/client";
import { SearchField } from "../../ui/SearchField";

interface SpeciesSearchProps {
  label: string;
  onChoose: (id: string, name: string) => void;
}

/** Find a species by any of its names; a name that several share asks which is meant. */
export function SpeciesSearch({ label, onChoose }: SpeciesSearchProps) {
  const [text, setText] = useState("");
  const [asked, setAsked] = useState("");
  useEffect(() => {
    const timer = setTimeout(() => setAsked(text.trim()), 150);
    return () => clearTimeout(timer);
  }, [text]);
  const answer = useQuery({
    queryKey: ["species-find", asked],
    queryFn: ({ signal }) => findSpecies(asked, signal),
    enabled: asked.length > 0,
  });
  const found = asked ? (answer.data?.found ?? []) : [];
  return (
    <div className="min-w-0">
      <SearchField
        label={label}
        placeholder="Scientific or common name"
        value={text}
        onChange={setText}
      />
      {asked && answer.data && (
        <div className="mt-1 rounded-md border border-edge bg-raised" data-testid="species-found">
          <p className="px-3 pt-2 text-sm" role="status">
            {found.length === 0
              ? `No species is known as “${asked}”. The species desk takes your own.`
              : answer.data.ambiguous
                ? `Several species are called “${asked}”. Which is it?`
                : `${found.length} found`}
          </p>
          <ul className="max-h-64 overflow-y-auto p-1">
            {found.slice(0, 20).map((hit) => (
              <li key={hit.id}>
                <button
                  type="button"
                  className="w-full rounded px-2 py-1.5 text-left hover:bg-wash"
                  onClick={() => {
                    setText("");
                    setAsked("");
                    onChoose(hit.id, hit.common_name);
                  }}
                >
                  <i>{hit.scientific_name}</i>{" "}
                  <span className="text-soft">
                    {hit.common_name}
                    {hit.by === "synonym" && `, once ${hit.name}`}
                    {hit.by === "everyday name" && `, also “${hit.name}”`}
                    {hit.by === "a name much like it" && `: did you mean “${hit.name}”?`}
                  </span>
                </button>
              </li>
            ))}
          </ul>
        </div>
      )}
    </div>
  );
}
