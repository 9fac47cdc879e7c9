import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Download } from "lucide-react";
import { useEffect, useState } from "react";
import { useSearchParams } from "react-router";
import { fetchCatalog, fetchPlans } from "../../api/client";
import {
  addPhoto,
  bringPhotoBack,
  fetchAnimals,
  fetchLogbook,
  logbookFile,
  putEntry,
  removeEntry,
  removePhoto,
  type Sought,
} from "../../api/keeping";
import type { LogEntry, LogKind, Photo, StoredEntry } from "../../api/types";
import { Header } from "../../app/Header";
import { describe, useNotify } from "../../app/notices";
import { useQueuedMutation } from "../../app/useQueuedMutation";
import { dayText, isoDay } from "../../domain/logbook/days";
import { KIND_NAMES, KINDS } from "../../domain/logbook/kinds";
import { freshId, HERE } from "../../domain/readings/kinds";
import { Button } from "../../ui/Button";
import { DayField } from "../../ui/fields";
import { SearchField } from "../../ui/SearchField";
import { SelectField } from "../../ui/SelectField";
import { SettledMain } from "../../ui/Settled";
import { AnimalsPanel } from "./AnimalsPanel";
import { aboutOptions, EntryForm } from "./EntryForm";
import { EntryRow } from "./EntryRow";
import { TimelinePanel } from "./TimelinePanel";

const PAGE = 60;
const STALE = ["logbook", "animals", "timeline"];

/** What was written down of enclosures and animals: written, found, and drawn on the line of time. */
export function LogbookScreen() {
  const [params, setParams] = useSearchParams();
  const notify = useNotify();
  const plans = useQuery({ queryKey: ["plans"], queryFn: fetchPlans });
  const catalog = useQuery({ queryKey: ["catalog"], queryFn: fetchCatalog, staleTime: Infinity });
  const animals = useQuery({ queryKey: ["animals"], queryFn: fetchAnimals });
  const [editing, setEditing] = useState<string | null>(null);
  const [most, setMost] = useState(PAGE);
  useEffect(() => {
    document.title = "Logbook · Noon Shade";
  }, []);

  const animal = params.get("animal") ?? "";
  const enclosure = params.get("enclosure") ?? "";
  const sought: Sought = {
    zone: HERE,
    ...(animal ? { animal } : {}),
    ...(enclosure ? { plan: enclosure } : {}),
    ...pick(params, ["kinds", "words", "since", "until"]),
  };
  const filtered = ["animal", "enclosure", "kinds", "words", "since", "until"].some((k) =>
    params.get(k),
  );
  const set = (changes: Record<string, string>) => {
    setMost(PAGE);
    setParams(
      (old) => {
        const next = new URLSearchParams(old);
        for (const [key, value] of Object.entries(changes)) {
          if (value) next.set(key, value);
          else next.delete(key);
        }
        return next;
      },
      { replace: true },
    );
  };
  const log = useQuery({
    queryKey: ["logbook", sought, most],
    queryFn: ({ signal }) => fetchLogbook({ ...sought, most }, signal),
    placeholderData: keepPreviousData,
  });
  const runQueued = useQueuedMutation(STALE);
  const save = (entry: LogEntry, photos: readonly File[]) =>
    runQueued(async () => {
      await putEntry(entry);
      for (const photo of photos) await addPhoto(entry.id, freshId(), photo);
    });
  const remove = async (entry: LogEntry) => {
    if (!(await runQueued(() => removeEntry(entry.id)))) return;
    notify({
      title: "The entry was deleted",
      tone: "plain",
      action: { label: "Put it back", run: () => void runQueued(() => putEntry(entry)) },
    });
  };
  const dropPhoto = async (photo: Photo) => {
    if (!(await runQueued(() => removePhoto(photo.id)))) return;
    notify({
      title: "The photograph was deleted",
      tone: "plain",
      action: { label: "Put it back", run: () => void runQueued(() => bringPhotoBack(photo.id)) },
    });
  };

  const known = animals.data ?? [];
  const enclosures = plans.data ?? [];
  const aboutNames = new Map(aboutOptions(enclosures, known).map((o) => [o.value, o.label]));
  const nameOf = ({ animal_id, plan_id }: LogEntry) =>
    (animal_id && aboutNames.get(`animal:${animal_id}`)) ||
    (plan_id && aboutNames.get(`enclosure:${plan_id}`)) ||
    "The room";
  const entries = log.data?.entries ?? [];
  const total = log.data?.total ?? 0;
  const lives = known.find((a) => a.animal.id === animal)?.animal.plan_id ?? "";
  const shownEnclosure = enclosure || lives;
  const about = animal ? `animal:${animal}` : enclosure ? `enclosure:${enclosure}` : "room";

  return (
    <div className="flex min-h-screen flex-col">
      <Header />
      <SettledMain className="mx-auto grid w-full max-w-[90rem] flex-1 grid-cols-1 gap-4 p-3 sm:p-4 lg:grid-cols-[minmax(0,1fr)_24rem]">
        <div className="min-w-0 space-y-4">
          <h1 className="text-2xl font-semibold">Logbook</h1>
          <section aria-label="Write" className="rounded-xl border border-line bg-panel p-4">
            <EntryForm key={about} plans={enclosures} animals={known} about={about} onSave={save} />
          </section>
          {shownEnclosure && (
            <TimelinePanel
              planId={shownEnclosure}
              version={String(log.dataUpdatedAt)}
              onDay={(day) => set({ since: day, until: day })}
            />
          )}
          <section aria-label="Entries" className="rounded-xl border border-line bg-panel p-4">
            <div className="flex flex-wrap items-end gap-2">
              <div className="min-w-44 flex-1">
                <SearchField
                  label="Find entries"
                  placeholder="Words, names, food"
                  value={params.get("words") ?? ""}
                  onChange={(words) => set({ words })}
                />
              </div>
              <div className="w-44">
                <SelectField
                  label="About"
                  value={about === "room" ? "" : about}
                  onChange={(next) => {
                    const [what, id = ""] = next.split(/:(.*)/);
                    set({
                      animal: what === "animal" ? id : "",
                      enclosure: what === "enclosure" ? id : "",
                    });
                  }}
                  options={[
                    { value: "", label: "Everything" },
                    ...aboutOptions(enclosures, known).filter((o) => o.value !== "room"),
                  ]}
                />
              </div>
              <div className="w-36">
                <SelectField
                  label="Kind"
                  value={params.get("kinds") ?? ""}
                  onChange={(kinds) => set({ kinds })}
                  options={[
                    { value: "", label: "Every kind" },
                    ...KIND_NAMES.map((k: LogKind) => ({ value: k, label: KINDS[k].label })),
                  ]}
                />
              </div>
              {(["since", "until"] as const).map((key) => (
                <DayField
                  key={key}
                  label={key === "since" ? "From" : "To"}
                  value={params.get(key)}
                  onChange={(day) => set({ [key]: day ?? "" })}
                />
              ))}
            </div>
            <p className="mt-2 flex flex-wrap items-center gap-x-4 gap-y-1 text-sm text-soft">
              <span role="status" data-testid="entries-found">
                {log.data ? `${total} ${total === 1 ? "entry" : "entries"}` : "Looking…"}
              </span>
              {filtered && (
                <Button size="small" onClick={() => setParams({}, { replace: true })}>
                  Show all
                </Button>
              )}
              <span className="ml-auto flex gap-3">
                {(["csv", "json"] as const).map((ending) => (
                  <a
                    key={ending}
                    href={logbookFile(sought, ending)}
                    className="inline-flex min-h-8 items-center gap-1 font-medium text-accent"
                  >
                    <Download size={15} aria-hidden /> As {ending.toUpperCase()}
                  </a>
                ))}
              </span>
            </p>
            {log.isError && (
              <p role="alert" className="text-high">
                {describe(log.error).title}: {describe(log.error).detail}
              </p>
            )}
            {log.data && entries.length === 0 && (
              <p className="mt-3 rounded-lg border border-dashed border-edge p-6 text-center text-soft">
                {filtered
                  ? "No entry matches. Try fewer words, or another time."
                  : "Here your entries will be, the newest first: meals, weights, sheds, photographs. Write the first one above."}
              </p>
            )}
            {byDay(entries).map(([day, some]) => (
              <section key={day} aria-label={dayText(day)} className="mt-3">
                <h2 className="sticky top-0 bg-panel font-semibold text-soft">{dayText(day)}</h2>
                <ul className="divide-y divide-line">
                  {some.map((stored) =>
                    editing === stored.entry.id ? (
                      <li key={stored.entry.id} className="py-2">
                        <EntryForm
                          plans={enclosures}
                          animals={known}
                          entry={stored.entry}
                          onCancel={() => setEditing(null)}
                          onSave={async (entry, photos) => {
                            const done = await save(entry, photos);
                            if (!done) return false;
                            setEditing(null);
                            notify({
                              title: "The entry was changed",
                              tone: "plain",
                              action: { label: "Undo", run: () => void save(stored.entry, []) },
                            });
                            return true;
                          }}
                        />
                      </li>
                    ) : (
                      <EntryRow
                        key={stored.entry.id}
                        stored={stored}
                        about={nameOf(stored.entry)}
                        onEdit={() => setEditing(stored.entry.id)}
                        onRemove={() => void remove(stored.entry)}
                        onRemovePhoto={(photo) => void dropPhoto(photo)}
                      />
                    ),
                  )}
                </ul>
              </section>
            ))}
            {total > entries.length && (
              <Button className="mt-3" onClick={() => setMost((n) => Math.min(500, n + 2 * PAGE))}>
                Show older ones
              </Button>
            )}
          </section>
        </div>
        <div className="space-y-4">
          <AnimalsPanel
            animals={known}
            plans={enclosures}
            catalog={catalog.data ?? null}
            chosen={animal}
            onChoose={(id) => set({ animal: id, enclosure: "" })}
          />
          <p className="px-2 text-sm text-soft">
            Wash your hands after every enclosure: reptiles and amphibians can carry Salmonella.
          </p>
        </div>
      </SettledMain>
    </div>
  );
}

function pick(params: URLSearchParams, keys: readonly string[]): Record<string, string> {
  const found = keys.map((key) => [key, params.get(key) ?? ""] as const);
  return Object.fromEntries(found.filter(([, value]) => value));
}

/** Entries by the day they are of, in the order they came. */
function byDay(entries: readonly StoredEntry[]): [string, StoredEntry[]][] {
  const found = new Map<string, StoredEntry[]>();
  for (const stored of entries) {
    const day = isoDay(new Date(stored.entry.at));
    found.set(day, [...(found.get(day) ?? []), stored]);
  }
  return [...found];
}
