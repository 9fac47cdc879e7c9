import { useMutation, useQueryClient } from "@tanstack/react-query";
import { CopyPlus, Download, Pencil, Undo2 } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import {
  bringBackSpecies,
  createSpecies,
  removeSpecies,
  saveSpecies,
  settleSpecies,
} from "../../api/client";
import type { Need, School, SpeciesDocument, SpeciesSheet, StageName } from "../../api/types";
import { useLatest } from "../../api/useLatest";
import { describe, useNotify } from "../../app/notices";
import { useAction } from "../../app/useAction";
import { PLACE, quantityWords, rangeText } from "../../domain/units/needs";
import { fixed, show } from "../../domain/units/units";
import { capitalized } from "../../domain/words";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { usePreferences } from "../../ui/preferences";
import { SelectField } from "../../ui/SelectField";
import { ClaimEditor } from "./ClaimEditor";
import { ClaimScale } from "./ClaimScale";
import {
  aboutKey,
  aboutLabel,
  likeIt,
  missing,
  movedClaim,
  wantOf,
  withClaims,
  withNeed,
} from "./drafts";
import { EarlierRevisions } from "./EarlierRevisions";
import { FactsEditor } from "./FactsEditor";
import { HomeChart } from "./HomeChart";
import { LAYING } from "./laying";
import { SCHOOLS, STAGE } from "./schools";

const EXPOSURE = [
  "",
  "1, active at dusk or in shade",
  "2, in part sun",
  "3, basks in open or part sun",
  "4, basks in the mid-day sun",
];
const COMPANY: Record<NonNullable<SpeciesSheet["species"]["company"]>["rule"], string> = {
  alone: "Lives alone",
  pairs: "Alone or as a pair",
  "one male": "One male with females, or females alone",
  females: "Females only",
  groups: "Groups get on",
};
const UV_SCHOOL: Record<string, string> = {
  sunbeam: "a bright patch where heat and light are",
  shade: "a low level over part of the enclosure",
  none: "none",
};

/** One species: its needs settled by a school, every claim behind them, and changing them. */
export function SpeciesSheetView({ sheet }: { sheet: SpeciesSheet }) {
  const queries = useQueryClient();
  const notify = useNotify();
  const navigate = useNavigate();
  const [stage, setStage] = useState<StageName>("adult");
  const [school, setSchool] = useState<School>("overlap");
  const [draft, setDraft] = useState<SpeciesDocument | null>(null);
  const { species } = sheet;
  const refresh = async () => {
    await queries.invalidateQueries({ queryKey: ["species"] });
    await queries.invalidateQueries({ queryKey: ["catalog"] });
  };
  const drafted = useLatest("settled-needs", draft, settleSpecies);
  const settled = (draft && drafted.result) ?? sheet.settled;
  const edit = (next: SpeciesDocument) => {
    store.reset();
    setDraft(next);
  };
  const leave = () => {
    store.reset();
    setDraft(null);
  };
  const store = useMutation({
    mutationFn: (document: SpeciesDocument) =>
      sheet.revision === null || document.id !== species.id
        ? createSpecies(document)
        : saveSpecies(document.id, document, sheet.revision),
    onSuccess: async (saved) => {
      notify({
        title: `Your view of ${saved.species.common_name} is saved`,
        detail: "Plans for it are assessed by it from now on.",
        tone: "plain",
        ...(saved.species.id === species.id
          ? { action: { label: "Undo", run: () => undo.mutate(saved) } }
          : {}),
      });
      setDraft(null);
      await refresh();
      if (saved.species.id !== species.id) navigate(`/species/${saved.species.id}`);
    },
  });
  // Before it was changed the first time, a shipped species was as shipped.
  const undo = useAction(
    (saved: SpeciesSheet) =>
      sheet.revision === null || saved.revision === null
        ? removeSpecies(species.id)
        : saveSpecies(species.id, sheet.document, saved.revision),
    refresh,
  );
  // What was known of a removed species goes only with its sheet: while that is shown, it would be asked anew.
  const gone = useRef(false);
  useEffect(
    () => () => {
      if (gone.current) queries.removeQueries({ queryKey: ["species", species.id] });
    },
    [queries, species.id],
  );
  const restore = useAction(() => bringBackSpecies(species.id), refresh);
  const remove = useMutation({
    mutationFn: () => removeSpecies(species.id),
    onSuccess: async () => {
      notify({
        title: sheet.shipped
          ? `${species.common_name} is assessed as shipped again`
          : `${species.common_name} was removed`,
        tone: "plain",
        action: {
          label: "Bring it back",
          run: () => restore.mutate(),
        },
      });
      if (sheet.shipped) await refresh();
      else {
        gone.current = true;
        navigate("/species");
        await queries.invalidateQueries({ queryKey: ["catalog"] });
      }
    },
    onError: (error) => notify({ ...describe(error), tone: "trouble" }),
  });
  const error = store.error ?? (draft && drafted.error);
  const trouble = error ? describe(error) : null;
  const needs = settled.find((s) => s.stage === stage && s.school === school)?.needs ?? [];
  const editing = draft !== null;
  const isNew = draft !== null && draft.id !== species.id;
  // Facts are the keeper's to change in a species of their own.
  const editsFacts = editing && (isNew || (species.own && !sheet.shipped));
  return (
    <article data-testid="species-sheet">
      <div className="flex flex-wrap items-start gap-x-6 gap-y-2">
        <div className="min-w-0 flex-1">
          <h2 className="text-2xl leading-tight font-semibold">{species.common_name}</h2>
          <p className="text-soft">
            <i>{species.scientific_name}</i>
            {species.synonyms.length > 0 && (
              <>
                , once <i>{species.synonyms.join(", ")}</i>
              </>
            )}
            {species.common_names.length + species.everyday_names.length > 1 &&
              `; also ${[...species.common_names.slice(1), ...species.everyday_names].join(", ")}`}
          </p>
          {species.own && (
            <p className="text-sm font-semibold text-accent">
              {sheet.shipped ? "Your own needs for a shipped species" : "Your own species"},
              revision {sheet.revision}
            </p>
          )}
        </div>
        <div className="flex flex-wrap gap-2">
          {editing ? (
            <>
              <Button
                tone="strong"
                disabled={trouble !== null || store.isPending}
                onClick={() => store.mutate(draft)}
              >
                {isNew ? "Save as your own" : "Save your needs"}
              </Button>
              <Button onClick={leave}>Cancel</Button>
            </>
          ) : (
            <>
              <Button onClick={() => void edit(sheet.document)}>
                <Pencil size={15} aria-hidden />
                Edit its needs
              </Button>
              <Button onClick={() => void edit(likeIt(sheet.document))}>
                <CopyPlus size={15} aria-hidden />
                Copy as my own species
              </Button>
              <a
                href={`/api/species/${species.id}/export`}
                className="inline-flex min-h-9 items-center gap-1.5 rounded-md border border-edge bg-raised px-3 font-medium hover:bg-wash"
              >
                <Download size={15} aria-hidden />
                Export
              </a>
              {species.own && (
                <Button onClick={() => remove.mutate()}>
                  <Undo2 size={15} aria-hidden />
                  {sheet.shipped ? "Back to the shipped needs" : "Remove"}
                </Button>
              )}
            </>
          )}
        </div>
      </div>
      {trouble && (
        <p role="alert" className="mt-2 rounded-lg border border-high bg-high-wash p-2 text-sm">
          <b>{trouble.title}.</b> {trouble.detail}
        </p>
      )}
      {editsFacts && <FactsEditor document={draft} onChange={(next) => void edit(next)} />}
      <Hints species={species} />
      <div className="mt-4 flex flex-wrap items-center gap-x-6 gap-y-2">
        <h3 className="text-lg font-semibold">Needs</h3>
        {species.stages.length > 1 && (
          <Choice
            label="Stage"
            value={stage}
            onChange={setStage}
            options={species.stages.map((one) => ({ value: one.id, label: STAGE[one.id] }))}
          />
        )}
        <Choice
          label="Sources settled by"
          value={school}
          onChange={setSchool}
          options={SCHOOLS.map(({ value, label }) => ({ value, label }))}
        />
      </div>
      <p className="mt-1 text-sm text-soft">
        {capitalized(SCHOOLS.find((s) => s.value === school)?.help ?? "")}
      </p>
      <ul className="mt-2 divide-y divide-line border-y border-line">
        {needs.map((need) => (
          <NeedRow
            key={`${need.place} ${need.quantity}`}
            need={need}
            stage={stage}
            draft={draft}
            onEdit={(next) => void edit(next)}
          />
        ))}
      </ul>
      {draft && (
        <div className="mt-3 max-w-md">
          <SelectField
            label="Add a need"
            value=""
            options={[
              { value: "", label: "choose what it is about" },
              ...missing(draft).map((a) => ({ value: aboutKey(a), label: aboutLabel(a) })),
            ]}
            onChange={(key) => {
              const about = missing(draft).find((a) => aboutKey(a) === key);
              if (about) void edit(withNeed(draft, about));
            }}
          />
        </div>
      )}
      {!editsFacts && <Facts sheet={sheet} />}
      {sheet.revision !== null && sheet.revision > 1 && !editing && (
        <EarlierRevisions id={species.id} head={sheet.revision} onTake={(d) => void edit(d)} />
      )}
      <p className="mt-3 text-sm text-soft">
        Ranges are what keepers and papers say, not promises. Where your animal disagrees, believe
        the animal, and ask a veterinarian who knows reptiles.
      </p>
    </article>
  );
}

interface NeedRowProps {
  need: Need;
  stage: StageName;
  draft: SpeciesDocument | null;
  onEdit: (next: SpeciesDocument) => void;
}

function NeedRow({ need, stage, draft, onEdit }: NeedRowProps) {
  const { units } = usePreferences();
  const several = need.claims.length > 1;
  const at = draft ? wantOf(draft, need, stage) : -1;
  const claims = draft && at >= 0 ? (draft.needs[at]?.claims ?? []) : need.claims;
  return (
    <li className="grid gap-x-6 gap-y-1 py-2.5 md:grid-cols-[15rem_minmax(0,1fr)]">
      <div>
        <h4 className="leading-tight font-semibold">
          {PLACE[need.place]}{" "}
          <span className="font-normal text-soft">{quantityWords(need.place, need.quantity)}</span>
        </h4>
        <p className="text-xl font-semibold" data-testid={`need-${need.place}-${need.quantity}`}>
          {rangeText(need, units)}
        </p>
        <p className="text-sm text-soft">
          {need.offered && "Offered, not required. "}
          {need.note ? `Taken: ${need.note}.` : `${capitalized(need.grade)}.`}
        </p>
        {need.outliers.length > 0 && (
          <p className="text-sm text-high">
            <span aria-hidden="true">▲ </span>
            {need.outliers.length === 1 ? "One source differs" : "Some sources differ"} from all
            others. Is it about the same thing: surface or air, adult or young, day or night?
          </p>
        )}
      </div>
      <div className="min-w-0">
        {(several || draft) && (
          <ClaimScale
            quantity={need.quantity}
            claims={claims}
            settled={need}
            outliers={need.outliers}
          />
        )}
        {draft && at >= 0 ? (
          <ClaimEditor
            about={{
              place: need.place,
              quantity: need.quantity,
              stage: draft.needs[at]?.stage ?? null,
            }}
            claims={claims}
            onChange={(next) => onEdit(withClaims(draft, at, next))}
            onMove={(number, to) => onEdit(movedClaim(draft, at, number, to))}
          />
        ) : (
          <ol className="text-sm text-soft">
            {need.claims.length === 0 && <li>{`${capitalized(need.grade)}: ${need.source}.`}</li>}
            {need.claims.map((claim) => (
              <li key={`${claim.source}${claim.about}${claim.low}`}>
                {several && (
                  <b className="font-semibold text-ink">
                    {rangeText({ quantity: need.quantity, ...claim }, units)}:{" "}
                  </b>
                )}
                {claim.about && `${claim.about}. `}
                {capitalized(claim.grade)}: {claim.source}.
              </li>
            ))}
          </ol>
        )}
      </div>
    </li>
  );
}

function Facts({ sheet }: { sheet: SpeciesSheet }) {
  const { units } = usePreferences();
  const { species: s } = sheet;
  const m = (v: number) => show(v, "length", units, 0);
  const t = (v: number) => show(v, "temperature", units, 0);
  const rows: [string, string][] = [
    ["Way of life", capitalized(s.way_of_life)],
    ["Eats", s.food || (s.diet ?? "not said")],
    [
      "Company",
      s.company
        ? `${COMPANY[s.company.rule]}: ${s.company.source}${s.company.season ? "; together only in the breeding season" : ""} (${s.company.grade})`
        : "not said; most species live alone",
    ],
    [
      "Body",
      s.stages
        .map(
          (x) =>
            `${x.id} ${m(x.body_length_m)}, back ${show(x.back_height_m, "length", units)}${
              x.habits.join() === s.habits.join() ? "" : `, lives ${x.habits.join(" and ")}`
            }`,
        )
        .join("; ")
        .concat(` (${s.size_source})`),
    ],
    ["Sun", `Class ${EXPOSURE[s.exposure_class]} (${s.exposure_source})`],
    ["UV given as", `${UV_SCHOOL[s.uv_school]}: ${s.uv_reason}`],
    ["Lamps", `heat ${s.heat}, UV ${s.uv}, light ${s.light}`],
    [
      "Enclosure",
      s.stages
        .map(
          ({ id, enclosure: e }) =>
            `${id} ${m(e.length_m)} long, ${m(e.depth_m)} deep, ${m(e.height_m)} high`,
        )
        .join("; ")
        .concat(` (${s.enclosure.grade}: ${s.enclosure.source}; young ones by their size)`),
    ],
    [
      "Ground",
      s.ground
        ? `${m(s.ground.depth_m)} deep at least: ${s.ground.mix.charAt(0).toLowerCase()}${s.ground.mix.slice(1)} (${s.ground.grade})`
        : "no depth stated",
    ],
    ...(s.laying
      ? ([
          [
            "Laying",
            `${LAYING[s.laying.place]}${s.laying.place === "ground" ? `, ${m(s.laying.depth_m)} deep at least` : ""}: ${s.laying.source} (${s.laying.grade})`,
          ],
        ] as [string, string][])
      : []),
    ["Hides", s.likes_contact ? "tight: its back touches the roof" : "roomy enough to turn in"],
    ["Harmful UV", `from UV index ${fixed(s.harmful_uvi, 0)} on, anywhere it can get to`],
    [
      "Winter rest",
      s.brumation
        ? `${fixed(s.brumation.weeks, 0)} weeks at ${t(s.brumation.low_c)} to ${t(s.brumation.high_c)} (${s.brumation.grade}: ${s.brumation.source})`
        : "None",
    ],
    [
      "In danger",
      `in air below ${t(s.lowest_safe_c)} or above ${t(s.highest_safe_c)} it cannot leave (${s.safe_source})`,
    ],
  ];
  return (
    <div className="mt-6 grid gap-6 xl:grid-cols-2">
      <div>
        <h3 className="mb-2 text-lg font-semibold">The animal</h3>
        <dl className="grid grid-cols-[8.5rem_minmax(0,1fr)] gap-x-3 gap-y-1 text-sm">
          {rows.map(([name, value]) => (
            <div key={name} className="contents">
              <dt className="text-soft">{name}</dt>
              <dd>{value}</dd>
            </div>
          ))}
          <dt className="text-soft">Kept here</dt>
          <dd>
            {sheet.used_in.length === 0
              ? "Not in this room"
              : sheet.used_in.map((use, i) => (
                  <span key={use.plan_id}>
                    {i > 0 && ", "}
                    <Link
                      to={`/plans/${use.plan_id}`}
                      className="inline-flex min-h-6 items-center text-accent underline"
                    >
                      {use.name}
                    </Link>
                  </span>
                ))}
          </dd>
        </dl>
      </div>
      <HomeChart home={s.home} />
    </div>
  );
}

/** What to know before anything else. */
function Hints({ species: s }: { species: SpeciesSheet["species"] }) {
  return (
    <>
      {s.hints.length > 0 && (
        <p className="mt-3 border-l-4 border-edge bg-wash px-3 py-2 text-sm">
          <strong>Before you buy one. </strong>
          {s.hints.map((h) => capitalized(h.text)).join(". ")}.
        </p>
      )}
      {s.hazards.length > 0 && (
        <p className="mt-3 border-l-4 border-high bg-high-wash px-3 py-2 text-sm">
          <strong>Caution. </strong>
          {s.hazards.map(capitalized).join(". ")}.
        </p>
      )}
    </>
  );
}
