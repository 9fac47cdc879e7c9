import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { createSpecies, fetchCatalog, fetchSpecies } from "../../api/client";
import type { SpeciesBrief, SpeciesDocument } from "../../api/types";
import { ErrorPage } from "../../app/ErrorPage";
import { Header } from "../../app/Header";
import { describe, useNotify } from "../../app/notices";
import { FileButton } from "../../ui/FileButton";
import { SettledMain } from "../../ui/Settled";
import { useMedia } from "../../ui/useMedia";
import { SpeciesSearch } from "./SpeciesSearch";
import { SpeciesSheetView } from "./SpeciesSheetView";

const GROUP: Record<string, string> = {
  lizard: "Lizards",
  gecko: "Geckos",
  snake: "Snakes",
  tortoise: "Tortoises",
  turtle: "Turtles",
  frog: "Frogs and toads",
  salamander: "Salamanders",
  invertebrate: "Spiders, scorpions and their kin",
};

/** The species desk: who needs what, by whose word, and the keeper's own view of it. */
export function SpeciesScreen() {
  const { speciesId } = useParams();
  const beside = useMedia("(min-width: 64rem)");
  const navigate = useNavigate();
  const queries = useQueryClient();
  const notify = useNotify();
  const catalog = useQuery({ queryKey: ["catalog"], queryFn: fetchCatalog, staleTime: Infinity });
  const first = catalog.data?.species.find((s) => s.id === "crotaphytus-collaris");
  const shown = speciesId ?? first?.id ?? catalog.data?.species[0]?.id;
  const sheet = useQuery({
    queryKey: ["species", shown],
    queryFn: () => fetchSpecies(shown ?? ""),
    enabled: shown !== undefined,
  });
  useEffect(() => {
    const name = sheet.data?.species.common_name;
    document.title = `${name ? `${name} · ` : ""}Species · Noon Shade`;
  }, [sheet.data]);
  const importSpecies = useMutation({
    mutationFn: async (file: File) =>
      createSpecies(JSON.parse(await file.text()) as SpeciesDocument),
    onSuccess: async (made) => {
      await queries.invalidateQueries({ queryKey: ["catalog"] });
      await queries.invalidateQueries({ queryKey: ["species"] });
      notify({ title: `${made.species.scientific_name} was added`, tone: "plain" });
      navigate(`/species/${made.species.id}`);
    },
    onError: (error, { name }) => {
      const message =
        error instanceof SyntaxError
          ? { title: `${name} cannot be read`, detail: "It is not JSON, as species files are." }
          : describe(error);
      notify({ ...message, tone: "trouble" });
    },
  });
  if (catalog.error) return <ErrorPage {...describe(catalog.error)} />;
  return (
    <div className="min-h-screen">
      <Header>
        <h1 className="font-semibold">Species</h1>
      </Header>
      <SettledMain className="grid grid-cols-1 lg:grid-cols-[19rem_minmax(0,1fr)]">
        <section
          aria-label="All species"
          className="border-line bg-panel p-3 lg:max-h-[calc(100vh-3.3rem)] lg:overflow-y-auto lg:border-r"
        >
          <SpeciesSearch label="Find a species" onChoose={(id) => navigate(`/species/${id}`)} />
          <div className="mt-2">
            <FileButton
              label="Species file"
              accept=".json,application/json"
              testId="species-file"
              size="small"
              onFile={(file) => importSpecies.mutate(file)}
            >
              Import a species file
            </FileButton>
          </div>
          {beside ? (
            <SpeciesList all={catalog.data?.species ?? []} shown={shown} />
          ) : (
            // Open, it would push the species that was chosen out of sight.
            <details
              key={speciesId}
              open={speciesId === undefined}
              className="mt-2 border-t border-line py-1"
            >
              <summary className="min-h-8 cursor-pointer py-1 font-semibold">All by group</summary>
              <SpeciesList all={catalog.data?.species ?? []} shown={undefined} />
            </details>
          )}
        </section>
        <section aria-label="One species" className="min-w-0 p-4">
          {sheet.error ? (
            <p role="alert" className="rounded-lg border border-high bg-high-wash p-3">
              <b>{describe(sheet.error).title}.</b> {describe(sheet.error).detail}
            </p>
          ) : sheet.data ? (
            <SpeciesSheetView key={`${shown}-${sheet.data.revision}`} sheet={sheet.data} />
          ) : (
            <p aria-busy="true" className="text-soft">
              Fetching the species…
            </p>
          )}
        </section>
      </SettledMain>
    </div>
  );
}

function SpeciesList({ all, shown }: { all: readonly SpeciesBrief[]; shown: string | undefined }) {
  const [open, setOpen] = useState<string | null>(null);
  const mine = all.find((s) => s.id === shown)?.group;
  const current = open ?? mine ?? null;
  return (
    <nav aria-label="Species by group" className="mt-3">
      {Object.entries(GROUP).map(([group, label]) => {
        const here = all.filter((s) => s.group === group);
        if (here.length === 0) return null;
        return (
          <details
            key={group}
            open={current === group}
            onToggle={(e) => e.currentTarget.open && setOpen(group)}
            className="border-t border-line py-1"
          >
            <summary className="min-h-8 cursor-pointer py-1 font-semibold">
              {label} <span className="font-normal text-soft">{here.length}</span>
            </summary>
            <ul>
              {here.map((s) => (
                <li key={s.id}>
                  <Link
                    to={`/species/${s.id}`}
                    aria-current={s.id === shown ? "page" : undefined}
                    className="block rounded px-2 py-1 text-sm hover:bg-wash aria-[current=page]:bg-wash aria-[current=page]:font-semibold"
                  >
                    {s.common_name}
                    {s.own && <span className="text-accent"> · your own</span>}
                    <i className="block text-soft">{s.scientific_name}</i>
                  </Link>
                </li>
              ))}
            </ul>
          </details>
        );
      })}
    </nav>
  );
}
