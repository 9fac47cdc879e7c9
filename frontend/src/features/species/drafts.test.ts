import { describe, expect, it } from "vitest";
import type { Claim, Need, SpeciesDocument } from "../../api/types";
import { ABOUTS, aboutKey, aboutLabel, likeIt, movedClaim, wantOf, withClaims } from "./drafts";

const claim = (source: string): Claim =>
  ({ low: 30, high: 34, grade: "estimate", source }) as Claim;
const SPECIES = {
  id: "agama-agama",
  scientific_name: "Agama agama",
  common_names: ["Rainbow agama"],
  synonyms: ["Lacerta agama"],
  needs: [
    {
      place: "basking",
      quantity: "surface_temperature",
      stage: null,
      claims: [claim("a"), claim("b")],
    },
    { place: "basking", quantity: "surface_temperature", stage: "young", claims: [claim("y")] },
    { place: "night", quantity: "air_temperature", stage: null, claims: [claim("n")] },
  ],
} as unknown as SpeciesDocument;
const sources = (d: SpeciesDocument) => d.needs.map((n) => n.claims.map((c) => c.source).join(""));

describe("claims", () => {
  it("are found by the stage, else among the general ones", () => {
    const need = { place: "basking", quantity: "surface_temperature" } as Need;
    expect(wantOf(SPECIES, need, "young")).toBe(1);
    expect(wantOf(SPECIES, need, "adult")).toBe(0);
    expect(wantOf(SPECIES, { place: "cool_end", quantity: "humidity" } as Need, "adult")).toBe(-1);
  });

  it("are replaced in their need only", () => {
    expect(sources(withClaims(SPECIES, 2, [claim("x")]))).toEqual(["ab", "y", "x"]);
    expect(sources(SPECIES)).toEqual(["ab", "y", "n"]);
  });

  it("move to another figure, to a new need where there is none, and empty needs go", () => {
    const night = { place: "night", quantity: "air_temperature", stage: null } as const;
    expect(sources(movedClaim(SPECIES, 0, 1, night))).toEqual(["a", "y", "nb"]);
    expect(sources(movedClaim(SPECIES, 1, 0, night))).toEqual(["ab", "ny"]);
    const uvi = { place: "basking", quantity: "uvi", stage: null } as const;
    const moved = movedClaim(SPECIES, 2, 0, uvi);
    expect(sources(moved)).toEqual(["ab", "y", "n"]);
    expect(moved.needs[2]).toMatchObject(uvi);
    expect(movedClaim(SPECIES, 9, 0, uvi)).toBe(SPECIES);
  });

  it("can be about distinct things, each with its label", () => {
    expect(new Set(ABOUTS.map(aboutKey)).size).toBe(ABOUTS.length);
    expect(new Set(ABOUTS.map(aboutLabel)).size).toBe(ABOUTS.length);
    expect(aboutLabel({ place: "warm_end", quantity: "humidity", stage: "young" })).toBe(
      "Warm end, humidity by day (young only)",
    );
  });
});

it("an own species begins like another but for its names", () => {
  const own = likeIt(SPECIES);
  expect(own.id).toMatch(/^own-/);
  expect(own).toMatchObject({
    scientific_name: "Agama agama (own)",
    common_names: ["My Rainbow agama"],
    synonyms: [],
  });
  expect(own.needs).toBe(SPECIES.needs);
});
