import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Catalog, PlanSummary } from "../../api/types";
import { matches } from "../room/matches";
import { pictureOf, readSide, writeSide } from "./comparisonSource";

describe("a side of a comparison in an address", () => {
  it("is read back as written", () => {
    fc.assert(
      fc.property(
        fc.stringMatching(/^[a-z][a-z0-9-]{0,30}$/),
        fc.option(fc.integer({ min: 1, max: 1e6 })),
        (planId, revision) => {
          expect(readSide(writeSide({ planId, revision }))).toEqual({ planId, revision });
        },
      ),
    );
  });

  it.each(["", "@3", "plan@", "plan@0", "plan@-1", "plan@1.5", "plan@x"])(
    "is refused where it makes no sense: %j",
    (text) => {
      expect(readSide(text)).toBeNull();
    },
  );

  it("names its drawing by revision, field, view and units", () => {
    expect(pictureOf({ planId: "corn-snake", revision: 4 }, "uvi", "front", "metric")).toBe(
      "/api/plans/corn-snake/drawing.svg?revision=4&field=uvi&view=front&units=metric",
    );
  });
});

describe("searching the room", () => {
  const plan = {
    name: "Left rack, top",
    document: { animal: { species_id: "gekko" } },
  } as unknown as PlanSummary;
  const catalog = {
    species: [{ id: "gekko", common_name: "Gargoyle gecko", scientific_name: "Rhacodactylus" }],
  } as unknown as Catalog;

  it.each(["", "gecko", "GARGOYLE rack", "rhaco top"])("finds by %j", (words) => {
    expect(matches(plan, catalog, words)).toBe(true);
  });

  it("wants every word, and does with the plan's name until the catalogue is there", () => {
    expect(matches(plan, catalog, "gecko bottom")).toBe(false);
    expect(matches(plan, null, "gecko")).toBe(false);
    expect(matches(plan, null, "rack")).toBe(true);
  });
});
