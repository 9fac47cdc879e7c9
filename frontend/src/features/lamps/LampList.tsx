import { useMemo, useState } from "react";
import type { LibraryLamp } from "../../api/types";
import { hasWords, SearchField } from "../../ui/SearchField";
import { inShort, KINDS, MOST_COMPARED, STYLES } from "./library";

interface LampListProps {
  lamps: readonly LibraryLamp[];
  chosen: readonly string[];
  onToggle: (id: string) => void;
}

/** Every lamp by kind, own ones first; those ticked are looked at side by side. */
export function LampList({ lamps, chosen, onToggle }: LampListProps) {
  const [search, setSearch] = useState("");
  const groups = useMemo(() => {
    const found = lamps.filter(({ lamp }) => hasWords(`${lamp.label} ${lamp.kind}`, search));
    return [
      { label: "Your own", lamps: found.filter((l) => l.lamp.own) },
      ...KINDS.map((k) => ({
        label: k.label,
        lamps: found.filter((l) => !l.lamp.own && l.lamp.kind === k.value),
      })),
    ].filter((g) => g.lamps.length > 0);
  }, [lamps, search]);
  const full = chosen.length >= MOST_COMPARED;

  return (
    <div>
      <SearchField
        label="Search lamps"
        hidden
        placeholder="Search lamps"
        value={search}
        onChange={setSearch}
      />
      <p className="mt-2 text-sm text-soft" aria-live="polite">
        {groups.length === 0
          ? "No lamp matches."
          : `Tick up to ${MOST_COMPARED} to see them side by side.`}
      </p>
      {groups.map((group) => (
        <fieldset key={group.label} className="mt-3">
          <legend className="text-sm font-semibold text-soft">{group.label}</legend>
          <ul className="mt-1 divide-y divide-line overflow-hidden rounded-lg border border-line bg-panel">
            {group.lamps.map(({ lamp, used_in }) => {
              const place = chosen.indexOf(lamp.id);
              const style = STYLES[place];
              return (
                <li key={lamp.id}>
                  <label
                    className={`flex min-h-11 cursor-pointer items-center gap-2.5 px-2.5 py-1.5 hover:bg-wash ${place >= 0 ? "bg-wash" : ""}`}
                  >
                    <input
                      type="checkbox"
                      checked={place >= 0}
                      disabled={place < 0 && full}
                      onChange={() => onToggle(lamp.id)}
                      className="size-4 shrink-0 accent-accent"
                    />
                    <span className="min-w-0 flex-1">
                      <span className="block leading-tight font-medium">{lamp.label}</span>
                      <span className="text-sm text-soft">
                        {inShort(lamp)}
                        {used_in.length > 0 &&
                          ` · in ${used_in.length} enclosure${used_in.length > 1 ? "s" : ""}`}
                      </span>
                    </span>
                    {style && (
                      <span aria-hidden="true" className={style.text}>
                        {style.mark}
                      </span>
                    )}
                  </label>
                </li>
              );
            })}
          </ul>
        </fieldset>
      ))}
    </div>
  );
}
