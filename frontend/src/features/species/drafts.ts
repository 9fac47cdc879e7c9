/** Pure edits of a species document on the desk. */
import type { Claim, ClaimedNeed, Need, SpeciesDocument, StageName } from "../../api/types";
import { PLACE, quantityWords } from "../../domain/units/needs";

/** What a claim can be about: a figure at a place, for every stage or for young ones only. */
export interface About {
  readonly place: ClaimedNeed["place"];
  readonly quantity: ClaimedNeed["quantity"];
  readonly stage: StageName | null;
}

const PAIRS: readonly [ClaimedNeed["place"], ClaimedNeed["quantity"]][] = [
  ["basking", "surface_temperature"],
  ["basking", "air_temperature"],
  ["warm_end", "air_temperature"],
  ["cool_end", "air_temperature"],
  ["burrow", "air_temperature"],
  ["night", "air_temperature"],
  ["water", "water_temperature"],
  ["basking", "uvi"],
  ["uv_refuge", "uvi"],
  ["enclosure", "uv_free_share"],
  ["warm_end", "humidity"],
  ["cool_end", "humidity"],
  ["uv_refuge", "humidity"],
  ["moist_hide", "humidity"],
  ["night", "humidity"],
];

export const ABOUTS: readonly About[] = PAIRS.flatMap(([place, quantity]) => [
  { place, quantity, stage: null },
  { place, quantity, stage: "young" as const },
  { place, quantity, stage: "gravid" as const },
  { place, quantity, stage: "hatchling" as const },
  { place, quantity, stage: "larva" as const },
  { place, quantity, stage: "aquatic" as const },
  { place, quantity, stage: "land" as const },
]);

export const aboutKey = (a: About): string => `${a.place} ${a.quantity} ${a.stage ?? ""}`;

export function aboutLabel(a: About): string {
  const when = a.place === "night" ? "" : a.quantity === "humidity" ? " by day" : "";
  return `${PLACE[a.place]}, ${quantityWords(a.place, a.quantity)}${when}${a.stage ? ` (${a.stage} only)` : ""}`;
}

/** The need of a document a need was settled from: that of the stage, else the general one. */
export function wantOf(document: SpeciesDocument, need: Need, stage: StageName): number {
  const same = (w: ClaimedNeed) => w.place === need.place && w.quantity === need.quantity;
  const staged = document.needs.findIndex((w) => same(w) && w.stage === stage);
  return staged >= 0
    ? staged
    : document.needs.findIndex((w) => same(w) && (w.stage ?? null) === null);
}

export function withClaims(
  document: SpeciesDocument,
  at: number,
  claims: Claim[],
): SpeciesDocument {
  return {
    ...document,
    needs: document.needs.map((w, i) => (i === at ? { ...w, claims } : w)),
  };
}

/** With one more need, for the species or one stage, to be filled in. */
export function withNeed(document: SpeciesDocument, about: About): SpeciesDocument {
  const claim: Claim = {
    low: FIRST[about.quantity],
    high: null,
    grade: "keepers' consensus",
    source: "your own experience",
    about: "",
  };
  return { ...document, needs: [...document.needs, { ...about, claims: [claim], offered: false }] };
}

/** A lower limit to start from, in core units. */
const FIRST: Record<About["quantity"], number> = {
  surface_temperature: 30,
  air_temperature: 22,
  water_temperature: 20,
  gradient: 3,
  uvi: 1,
  humidity: 0.5,
  uv_free_share: 0.2,
};

/** What a document says nothing about yet. */
export const missing = (document: SpeciesDocument): readonly About[] =>
  ABOUTS.filter(
    (a) => !document.needs.some((w) => aboutKey({ ...w, stage: w.stage ?? null }) === aboutKey(a)),
  );

/** A claim that was filed under the wrong figure goes where it belongs; an empty need goes with it. */
export function movedClaim(
  document: SpeciesDocument,
  at: number,
  number: number,
  to: About,
): SpeciesDocument {
  const claim = document.needs[at]?.claims[number];
  if (!claim) return document;
  const needs = document.needs
    .map((w, i) => (i === at ? { ...w, claims: w.claims.filter((_, k) => k !== number) } : w))
    .filter((w) => w.claims.length > 0);
  const home = needs.findIndex((w) => aboutKey({ ...w, stage: w.stage ?? null }) === aboutKey(to));
  if (home >= 0) {
    return {
      ...document,
      needs: needs.map((w, i) => (i === home ? { ...w, claims: [...w.claims, claim] } : w)),
    };
  }
  return { ...document, needs: [...needs, { ...to, claims: [claim], offered: false }] };
}

/** A species of the keeper's own to start from, alike but for its names. */
export function likeIt(document: SpeciesDocument): SpeciesDocument {
  const tail = Math.random().toString(36).slice(2, 8);
  return {
    ...document,
    id: `own-${tail}`,
    scientific_name: `${document.scientific_name} (own)`.slice(0, 120),
    common_names: [`My ${document.common_names[0] ?? "animal"}`.slice(0, 120)],
    synonyms: [],
  };
}
