import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { fetchSpecies } from "../../api/client";
import type { PlanDocument, School, StageName } from "../../api/types";
import { useAction } from "../../app/useAction";
import { capitalized } from "../../domain/words";
import { CheckField } from "../../ui/CheckField";
import { GRID } from "../../ui/grid";
import { Help } from "../../ui/Help";
import { NumberFields, type NumberRow } from "../../ui/NumberFields";
import { SelectField } from "../../ui/SelectField";
import { SpeciesSearch } from "../species/SpeciesSearch";
import { SCHOOLS, STAGE } from "../species/schools";
import { Caution, type FormProps } from "./forms";
import { MemberList } from "./MemberList";

type Animal = PlanDocument["animal"];

const SIZES: readonly NumberRow<Animal>[] = [
  {
    key: "body_length_m",
    label: "Body, snout to vent",
    dimension: "length",
    min: 0.01,
    max: 8,
    summary: (shown) => `${shown} long`,
    help: (
      <Help about="body length">
        Without the tail; of tortoises and turtles the shell. The warm patch must be as long.
      </Help>
    ),
  },
  {
    key: "back_height_m",
    label: "Back above the ground",
    dimension: "length",
    min: 0.002,
    max: 1,
    summary: (shown) => `back ${shown} high`,
    help: <Help about="the back">UV is assessed there, where it reaches the standing animal.</Help>,
  },
  {
    key: "count",
    label: "Animals in this enclosure",
    dimension: "count",
    min: 1,
    max: 50,
    usual: 1,
    whole: true,
    summary: (shown) => `${shown.trim()} in the enclosure`,
    help: (
      <Help about="keeping together">
        Most species live alone. In a group each animal needs its own basking spot and refuges, and
        you need a spare enclosure ready.
      </Help>
    ),
  },
];

/** Who lives in the enclosure: species, stage, size, how many, and how sources are weighed. */
export function AnimalForm({ document: d, catalog, edits }: FormProps) {
  const client = useQueryClient();
  const a = d.animal;
  const brief = catalog.species.find((s) => s.id === a.species_id);
  const sheet = useQuery({
    queryKey: ["species", a.species_id],
    queryFn: () => fetchSpecies(a.species_id),
  });
  const species = sheet.data?.species;
  const put = (change: Partial<Animal>, summary: string) =>
    edits.commit({ ...d, animal: { ...a, ...change } }, `Animal: ${summary}`);
  const choose = useAction(
    ({ id }: { id: string; name: string }) =>
      client.fetchQuery({ queryKey: ["species", id], queryFn: () => fetchSpecies(id) }),
    (next, { id, name }) => {
      // A new animal comes with the usual size of its stage.
      const stage =
        next.species.stages.find((s) => s.id === (a.stage ?? "adult")) ?? next.species.stages[0];
      if (!stage) return;
      const { id: stage_id, body_length_m, back_height_m } = stage;
      put({ species_id: id, stage: stage_id, body_length_m, back_height_m }, name);
    },
  );
  return (
    <div>
      <div className={GRID}>
        <div className="min-w-0">
          <p className="text-sm text-soft">Species</p>
          <p className="leading-tight font-semibold">
            {brief?.common_name ?? a.species_id}
            <br />
            <i className="font-normal">{brief?.scientific_name}</i>
          </p>
          <p className="mt-1 text-sm text-soft">{species?.way_of_life}</p>
          <Link
            to={`/species/${a.species_id}`}
            className="text-sm font-semibold text-accent underline"
          >
            Its needs and sources
          </Link>
        </div>
        <SpeciesSearch label="Change to" onChoose={(id, name) => choose.mutate({ id, name })} />
        <SelectField
          label="Stage"
          value={a.stage ?? "adult"}
          options={(species?.stages ?? []).map((s) => ({
            value: s.id,
            label: STAGE[s.id],
          }))}
          onChange={(id) => {
            const stage = species?.stages.find((s) => s.id === id);
            if (stage) {
              const { body_length_m, back_height_m } = stage;
              put({ stage: id as StageName, body_length_m, back_height_m }, id);
            }
          }}
        />
        <NumberFields rows={SIZES} of={a} onCommit={put} />
        <SelectField
          label="Sources that differ"
          value={a.school ?? "overlap"}
          options={SCHOOLS.map(({ value, label }) => ({ value, label }))}
          help={
            <Help about="how sources are weighed">
              {SCHOOLS.map((s) => (
                <p key={s.value} className="mt-1">
                  <b>{s.label}</b>: {s.help}
                </p>
              ))}
            </Help>
          }
          onChange={(school) =>
            put(
              { school: school as School },
              `sources by ${SCHOOLS.find((s) => s.value === school)?.label.toLowerCase()}`,
            )
          }
        />
        <CheckField
          label="Low pigment, or hurt eyes or skin"
          checked={a.low_pigment ?? false}
          onChange={(low_pigment) =>
            put({ low_pigment }, low_pigment ? "half the UV" : "usual pigment")
          }
          help={
            <Help about="low pigment">
              Albino and pale animals, and those with hurt eyes or fresh skin, get half the UV.
            </Help>
          }
        />
      </div>
      {(a.count ?? 1) > 1 || (a.members ?? []).length > 0 ? (
        <MemberList animal={a} company={species?.company ?? null} onChange={put} />
      ) : null}
      {species && species.hints.length > 0 && (
        <Caution>{species.hints.map((h) => capitalized(h.text)).join(". ")}.</Caution>
      )}
      {species && species.hazards.length > 0 && (
        <Caution>{species.hazards.map((h) => capitalized(h)).join(". ")}.</Caution>
      )}
    </div>
  );
}
