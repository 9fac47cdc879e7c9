import createClient from "openapi-fetch";
import type { components, paths } from "./schema";
import type {
  Building,
  Catalog,
  Comparison,
  Curves,
  Day,
  DesignRequest,
  DesignStatus,
  Evaluation,
  FailureOutcome,
  FailureScenario,
  Fix,
  FoundLamp,
  Health,
  LampAge,
  LampDocument,
  LampFileResult,
  LampFit,
  LibraryLamp,
  LiveReading,
  Moment,
  PlanDocument,
  PlanSummary,
  Problem,
  RedesignRequest,
  Repair,
  Room,
  RoomClimate,
  RoomLayout,
  RoomResults,
  Sample,
  ScenarioTable,
  Season,
  Settled,
  SettledNeeds,
  SpeciesDocument,
  SpeciesSheet,
  StageName,
} from "./types";

/** This page, for the server: what it asks goes to the process that knows its plan already. */
const PAGE = Array.from(crypto.getRandomValues(new Uint8Array(12)), (byte) =>
  byte.toString(16).padStart(2, "0"),
).join("");

export const api = createClient<paths>({ baseUrl: "/", headers: { "Noonshade-Live": PAGE } });

/**
 * How the enclosure is seen, and where: at a depth seen from the front, at a height seen from above; null:
 * at the basking spot.
 */
export interface View {
  readonly from: "front" | "above" | "both";
  readonly depth: number | null;
  readonly height: number | null;
}

export const FRONT: View = { from: "front", depth: null, height: null };

/** An answer that was not the wanted one, as the server's problem document. */
export class ProblemError extends Error {
  readonly problem: Problem;
  constructor(problem: Pick<Problem, "type" | "title" | "status" | "detail"> & Partial<Problem>) {
    super(problem.detail);
    this.problem = { fields: [], head_revision: null, refused_as: null, ...problem };
  }
}

function offline(error: unknown): ProblemError {
  return new ProblemError({
    type: "/problems/offline",
    title: "Noon Shade cannot be reached",
    status: 0,
    detail: error instanceof Error ? error.message : "No answer came.",
  });
}

type Outcome<T> = { data?: T; error?: unknown; response: Response };

/** Wait for an answer; anything but success becomes a ProblemError. */
export async function settle<T>(call: Promise<Outcome<T>>): Promise<T> {
  let outcome: Outcome<T>;
  try {
    outcome = await call;
  } catch (error) {
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    throw offline(error);
  }
  if (outcome.error !== undefined || !outcome.response.ok) {
    const problem = outcome.error as Partial<Problem> | undefined;
    // The passphrase was changed, or was given too long ago.
    if (problem?.type === "/problems/passphrase") window.location.assign("/sign-in");
    throw new ProblemError({
      type: problem?.type ?? "/problems/http",
      title: problem?.title ?? "The answer could not be read",
      status: outcome.response.status,
      detail: problem?.detail ?? outcome.response.statusText,
      fields: problem?.fields ?? [],
      head_revision: problem?.head_revision ?? null,
      refused_as: problem?.refused_as ?? null,
    });
  }
  return outcome.data as T;
}

export const fetchHealth = (): Promise<Health> => settle(api.GET("/api/health"));

export const fetchCatalog = (): Promise<Catalog> => settle(api.GET("/api/catalog"));

export const fetchPlans = async (): Promise<PlanSummary[]> =>
  (await settle(api.GET("/api/plans"))).plans;

export const fetchArchive = async (): Promise<PlanSummary[]> =>
  (await settle(api.GET("/api/archive"))).plans;

export const fetchPlan = (id: string): Promise<PlanSummary> =>
  settle(api.GET("/api/plans/{plan_id}", { params: { path: { plan_id: id } } }));

/** The sample enclosure as it ships. */
export const fetchSample = (): Promise<Sample> => settle(api.GET("/api/sample"));

/** The stored sample, with what was changed in it. */
export const openSample = (): Promise<PlanSummary> => settle(api.POST("/api/sample"));

export const createPlan = (document: PlanDocument, summary: string): Promise<PlanSummary> =>
  settle(api.POST("/api/plans", { body: { document, summary } }));

export const savePlan = (
  id: string,
  document: PlanDocument,
  base: number,
  summary: string,
  keepalive = false,
): Promise<PlanSummary> =>
  settle(
    api.PUT("/api/plans/{plan_id}", {
      params: { path: { plan_id: id } },
      body: { document, base_revision: base, summary },
      keepalive,
    }),
  );

export const removePlan = (id: string): Promise<unknown> =>
  settle(api.DELETE("/api/plans/{plan_id}", { params: { path: { plan_id: id } } }));

export const bringBackPlan = (id: string): Promise<PlanSummary> =>
  settle(api.POST("/api/plans/{plan_id}/bring-back", { params: { path: { plan_id: id } } }));

const ofPicture = (plan_id: string) => ({ params: { path: { plan_id } } });

/** Store a picture of a plan in 3D for its report. */
export const putPicture = (plan_id: string, revision: number, picture: Blob): Promise<unknown> =>
  settle(
    api.PUT("/api/plans/{plan_id}/picture", {
      params: { path: { plan_id }, query: { revision } },
      body: picture as unknown as string,
      bodySerializer: (body) => body as unknown as BodyInit,
      headers: { "Content-Type": picture.type || "application/octet-stream" },
    }),
  );

/** Leave the report without a picture in 3D. */
export const removePicture = (plan_id: string): Promise<unknown> =>
  settle(api.DELETE("/api/plans/{plan_id}/picture", ofPicture(plan_id)));

export const fetchRevisions = (id: string): Promise<components["schemas"]["RevisionList"]> =>
  settle(api.GET("/api/plans/{plan_id}/revisions", { params: { path: { plan_id: id } } }));

export const fetchRevision = (
  id: string,
  number: number,
): Promise<components["schemas"]["Revision"]> =>
  settle(
    api.GET("/api/plans/{plan_id}/revisions/{number}", {
      params: { path: { plan_id: id, number } },
    }),
  );

/** Give a revision a name to find it by; an empty one takes it off. */
export const nameRevision = (id: string, number: number, name: string): Promise<unknown> =>
  settle(
    api.PUT("/api/plans/{plan_id}/revisions/{number}/name", {
      params: { path: { plan_id: id, number } },
      body: { name },
    }),
  );

export const fetchComparison = (before: PlanDocument, after: PlanDocument): Promise<Comparison> =>
  settle(api.POST("/api/compare", { body: { before, after } }));

export const fetchBuilding = (document: PlanDocument): Promise<Building> =>
  settle(api.POST("/api/building", { body: { document } }));

export const evaluate = (
  document: PlanDocument,
  lampAge: LampAge = "present",
  view: View = FRONT,
  patchAbove: number | null = null,
): Promise<Evaluation> =>
  settle(
    api.POST("/api/evaluate", {
      body: {
        document,
        ...wantedFields(view),
        lamp_age: lampAge,
        patch_above_c: patchAbove,
      },
    }),
  );

/** Where fields for drawing are wanted. */
const wantedFields = (view: View) => ({
  section: view.from !== "above" ? { y_m: view.depth, nx: 120, nz: 60 } : null,
  plan_view: view.from !== "front" ? { z_m: view.height, nx: 120, ny: 60 } : null,
});

export const simulateDay = (document: PlanDocument, season: Season): Promise<Day> =>
  settle(api.POST("/api/day", { body: { document, season } }));

export const fetchDayLength = async (latitude: number, date: string): Promise<number> =>
  (await settle(api.GET("/api/day-length", { params: { query: { latitude, date } } }))).hours;

export const fetchMoment = (
  document: PlanDocument,
  season: Season,
  hour: number,
  view: View,
): Promise<Moment> =>
  settle(api.POST("/api/day/moment", { body: { document, season, hour, ...wantedFields(view) } }));

export const fetchDayCsv = async (document: PlanDocument, season: Season): Promise<Blob> => {
  const call = api.POST("/api/day/csv", { body: { document, season }, parseAs: "blob" });
  return (await settle(call as Promise<Outcome<unknown>>)) as Blob;
};

export const fetchFailureScenarios = async (
  document: PlanDocument,
  season: Season,
  signal: AbortSignal,
): Promise<FailureScenario[]> =>
  (await settle(api.POST("/api/day/failure-scenarios", { body: { document, season }, signal })))
    .failure_scenarios;

export const runFailureScenario = (
  document: PlanDocument,
  season: Season,
  failure_scenario_id: string,
  signal: AbortSignal,
): Promise<FailureOutcome> =>
  settle(
    api.POST("/api/day/failure-scenario", {
      body: { document, season, failure_scenario_id },
      signal,
    }),
  );

export const fetchFixes = async (
  document: PlanDocument,
  aboutId: string,
  signal: AbortSignal,
): Promise<Fix[]> =>
  (await settle(api.POST("/api/fixes", { body: { document, about_id: aboutId, most: 3 }, signal })))
    .fixes;

export const fetchIntervals = (document: PlanDocument, signal: AbortSignal): Promise<Settled> =>
  settle(api.POST("/api/intervals", { body: { document }, signal }));

export const fetchScenarios = (document: PlanDocument): Promise<ScenarioTable> =>
  settle(api.POST("/api/scenarios", { body: { document } }));

const ofSpecies = (id: string) => ({ params: { path: { species_id: id } } });

export const fetchSpecies = (id: string): Promise<SpeciesSheet> =>
  settle(api.GET("/api/species/{species_id}", ofSpecies(id)));

export const findSpecies = (
  text: string,
  signal?: AbortSignal,
): Promise<components["schemas"]["FindSpeciesResponse"]> =>
  settle(api.POST("/api/species/find", { body: { text }, ...(signal ? { signal } : {}) }));

export const settleSpecies = async (document: SpeciesDocument): Promise<SettledNeeds[]> =>
  (await settle(api.POST("/api/species/settle", { body: { document } }))).settled;

export const createSpecies = (document: SpeciesDocument): Promise<SpeciesSheet> =>
  settle(api.POST("/api/species", { body: { document } }));

export const saveSpecies = (
  id: string,
  document: SpeciesDocument,
  base: number,
): Promise<SpeciesSheet> =>
  settle(
    api.PUT("/api/species/{species_id}", {
      ...ofSpecies(id),
      body: { document, base_revision: base },
    }),
  );

export const fetchSpeciesRevisions = async (
  id: string,
): Promise<components["schemas"]["SpeciesRevision"][]> =>
  (await settle(api.GET("/api/species/{species_id}/revisions", ofSpecies(id)))).revisions;

export const removeSpecies = (id: string): Promise<unknown> =>
  settle(api.DELETE("/api/species/{species_id}", ofSpecies(id)));

export const bringBackSpecies = (id: string): Promise<SpeciesSheet> =>
  settle(api.POST("/api/species/{species_id}/bring-back", ofSpecies(id)));

export const fetchLampLibrary = async (): Promise<LibraryLamp[]> =>
  (await settle(api.GET("/api/lamps"))).lamps;

export const createLamp = (document: LampDocument): Promise<LibraryLamp> =>
  settle(api.POST("/api/lamps", { body: { document } }));

export const saveLamp = (id: string, document: LampDocument, base: number): Promise<LibraryLamp> =>
  settle(
    api.PUT("/api/lamps/{lamp_id}", {
      params: { path: { lamp_id: id } },
      body: { document, base_revision: base },
    }),
  );

export const removeLamp = (id: string): Promise<unknown> =>
  settle(api.DELETE("/api/lamps/{lamp_id}", { params: { path: { lamp_id: id } } }));

export const bringBackLamp = (id: string): Promise<LibraryLamp> =>
  settle(api.POST("/api/lamps/{lamp_id}/bring-back", { params: { path: { lamp_id: id } } }));

export const fetchCurves = (
  body: components["schemas"]["CurvesRequest"],
  signal: AbortSignal,
): Promise<Curves> => settle(api.POST("/api/lamps/curves", { body, signal }));

export const findLamps = async (
  body: components["schemas"]["FindRequest"],
  signal: AbortSignal,
): Promise<FoundLamp[]> => (await settle(api.POST("/api/lamps/find", { body, signal }))).lamps;

export const fitLamp = (body: components["schemas"]["FitRequest"]): Promise<LampFit> =>
  settle(api.POST("/api/lamps/fit", { body }));

export const readLampFile = (name: string, text: string): Promise<LampFileResult> =>
  settle(api.POST("/api/lamps/read-file", { body: { name, text } }));

/** The least enclosure for a number of animals of a species, and its usual kind. */
export const fetchFittingEnclosure = (
  species_id: string,
  count: number,
  stage: StageName,
): Promise<components["schemas"]["FittingResponse"]> =>
  settle(api.POST("/api/designs/enclosure", { body: { species_id, count, stage } }));

/** Begin to look for set-ups; nothing is stored by asking. */
export const startDesign = (body: DesignRequest): Promise<DesignStatus> =>
  settle(api.POST("/api/designs", { body }));

/** The same for an existing enclosure: its lamps and heaters are chosen anew. */
export const startRedesign = (body: RedesignRequest): Promise<DesignStatus> =>
  settle(api.POST("/api/designs/again", { body }));

/** The fewest changes that together fix a plan. */
export const repairPlan = (document: PlanDocument, signal: AbortSignal): Promise<Repair> =>
  settle(api.POST("/api/repairs", { body: { document }, signal }));

/** How far a design is, and what it came to once it has ended. */
export const fetchDesign = (id: string, signal?: AbortSignal): Promise<DesignStatus> =>
  settle(
    api.GET("/api/designs/{job_id}", {
      params: { path: { job_id: id } },
      signal: signal ?? null,
    }),
  );

/** End a design with the best it has so far. */
export const stopDesign = (id: string): Promise<DesignStatus> =>
  settle(api.POST("/api/designs/{job_id}/stop", { params: { path: { job_id: id } } }));

export const fetchRoom = (): Promise<Room> => settle(api.GET("/api/room"));

/** What the loggers of all enclosures read within the last hours. */
export const fetchLiveReadings = async (): Promise<readonly LiveReading[]> =>
  (await settle(api.GET("/api/room/live"))).readings;

/** Set the climate of the whole room; tells which plans were changed to it. */
export const setRoomClimate = async (
  climate: RoomClimate,
  every_plan: boolean,
): Promise<readonly string[]> =>
  (await settle(api.PUT("/api/room/climate", { body: { climate, every_plan } }))).changed;

export const setRoomLayout = (layout: RoomLayout): Promise<RoomLayout> =>
  settle(api.PUT("/api/room/layout", { body: layout }));

/** What is known of every enclosure; those on show are computed before the others. */
export const fetchRoomResults = (
  shown: readonly string[],
  signal?: AbortSignal,
): Promise<RoomResults> =>
  settle(
    api.GET("/api/room/results", {
      params: { query: { shown: shown.join(",") } },
      signal: signal ?? null,
    }),
  );
