import { describe, expect, it } from "vitest";
import type { Catalog, PlanDocument } from "../../api/types";
import { copiedItems, pasted, readCopied } from "./clipboard";
import { fixturesOf, furnishingsOf, newThermostat, thermostatsOf, withFixture } from "./document";
import { furnishingKey, placeOf } from "./furnishings";
import { PLAN } from "./plan.fixture";

const CATALOG = {
  lamps: [{ id: "halogen-flood", shape: "point" }],
  materials: [],
} as unknown as Catalog;
const KEYS = ["basking-lamp", furnishingKey("basking-slab")];
const EMPTY: PlanDocument = { ...PLAN, name: "The other", fixtures: [], furnishings: [] };

function regulated(): PlanDocument {
  const thermostat = newThermostat(PLAN);
  const d = { ...PLAN, thermostats: [thermostat] };
  return withFixture(d, "basking-lamp", { thermostat_id: thermostat.id, locked: true });
}

function through(d: PlanDocument, keys = KEYS) {
  const copied = readCopied(JSON.stringify(copiedItems(d, keys)));
  if (!copied) throw new Error("nothing was copied");
  return copied;
}

describe("copied items", () => {
  it("come to another enclosure as they are, unlocked, with their thermostat", () => {
    const { document, keys, tooLarge } = pasted(EMPTY, CATALOG, through(regulated()));
    expect(tooLarge).toEqual([]);
    expect(keys).toHaveLength(2);
    const [lamp] = fixturesOf(document);
    expect(lamp).toMatchObject({ label: "Basking lamp", locked: false, power_w: 75 });
    expect(lamp?.position_m).toEqual(fixturesOf(PLAN)[0]?.position_m);
    expect(thermostatsOf(document).map((t) => t.id)).toEqual([lamp?.thermostat_id]);
    expect(furnishingsOf(document)[0]).toMatchObject({ basking: true, length_m: 0.3 });
  });

  it("come beside those that are there, share their thermostat and are no second basking spot", () => {
    const d = regulated();
    const { document } = pasted(d, CATALOG, through(d));
    expect(thermostatsOf(document)).toHaveLength(1);
    expect(new Set(fixturesOf(document).map((f) => f.thermostat_id)).size).toBe(1);
    const [first, second] = furnishingsOf(document);
    if (!first || !second) throw new Error("a slab is missing");
    expect(placeOf(d, second).x).toBeCloseTo(placeOf(d, first).x + 0.05);
    expect(second).toMatchObject({ basking: false, label: "Slate slab 2" });
    expect(new Set(fixturesOf(document).map((f) => f.id)).size).toBe(2);
  });

  it("keep their size: what does not fit is named and stays away", () => {
    const small: PlanDocument = { ...EMPTY, enclosure: { ...EMPTY.enclosure, length_m: 0.25 } };
    const { document, keys, tooLarge } = pasted(small, CATALOG, through(PLAN));
    expect(tooLarge).toEqual(["Slate slab"]);
    expect(keys).toHaveLength(1);
    expect(furnishingsOf(document)).toEqual([]);
    // The lamp hangs as near to its place as this enclosure allows.
    expect(fixturesOf(document)[0]?.position_m.x_m).toBe(0.25);
  });

  it("are nothing where nothing is selected that can be copied", () => {
    expect(copiedItems(PLAN, ["room", "pin:1"])).toBeNull();
  });

  it.each([
    "",
    "a note",
    "[]",
    "null",
    '{"format":"noonshade-plan","version":2}',
    '{"format":"noonshade-items","version":2,"from":"","fixtures":[],"furnishings":[],"thermostats":[]}',
    '{"format":"noonshade-items","version":1,"from":"x","fixtures":[{}],"furnishings":[],"thermostats":[]}',
    '{"format":"noonshade-items","version":1,"from":"x","fixtures":[],"furnishings":[{"id":"a","label":"b","type":"door"}],"thermostats":[]}',
  ])("are not read from other text: %s", (text) => {
    expect(readCopied(text)).toBeNull();
  });
});
