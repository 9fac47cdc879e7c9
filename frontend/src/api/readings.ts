/** Readings, rounds, instruments and the fit, over HTTP. */
import { api, settle } from "./client";
import type { components } from "./schema";
import type {
  Instrument,
  PlanDocument,
  PredictedReading,
  Reading,
  ReadingFit,
  ReadingRound,
} from "./types";

type Schemas = components["schemas"];

const ofPlan = (plan_id: string) => ({ params: { path: { plan_id } } });

export const fetchReadings = (planId: string): Promise<Schemas["ReadingList"]> =>
  settle(api.GET("/api/plans/{plan_id}/readings", ofPlan(planId)));

/** Store readings; each that cannot be stored is named with its reason. */
export const putReadings = (
  planId: string,
  readings: readonly Reading[],
): Promise<Schemas["PutResult"]> =>
  settle(
    api.PUT("/api/plans/{plan_id}/readings", {
      ...ofPlan(planId),
      body: { readings: readings.map((r) => ({ ...r })) },
    }),
  );

export const removeReading = (reading_id: string): Promise<unknown> =>
  settle(api.DELETE("/api/readings/{reading_id}", { params: { path: { reading_id } } }));

/** Propose a round: the few readings that tell most, or one for each of some needs. */
export const startRound = (planId: string, needs: string[] = []): Promise<ReadingRound> =>
  settle(api.POST("/api/plans/{plan_id}/rounds", { ...ofPlan(planId), body: { most: 8, needs } }));

const ofRound = (round_id: string) => ({ params: { path: { round_id } } });

export const fetchRound = (roundId: string): Promise<ReadingRound> =>
  settle(api.GET("/api/rounds/{round_id}", ofRound(roundId)));

export const closeRound = (roundId: string, closed: boolean): Promise<ReadingRound> =>
  settle(api.PUT("/api/rounds/{round_id}", { ...ofRound(roundId), body: { closed } }));

export const fetchInstruments = async (): Promise<readonly Instrument[]> =>
  (await settle(api.GET("/api/instruments"))).instruments;

export const putInstrument = (instrument: Instrument): Promise<Instrument> =>
  settle(api.PUT("/api/instruments", { body: instrument }));

export const removeInstrument = (instrument_id: string): Promise<unknown> =>
  settle(api.DELETE("/api/instruments/{instrument_id}", { params: { path: { instrument_id } } }));

type Asked = Pick<Reading, "kind" | "at_m" | "instrument_id">;

/** What readings should show in a plan, or why nothing can be said. */
export const predict = async (
  document: PlanDocument,
  readings: readonly Asked[],
  signal?: AbortSignal,
): Promise<readonly PredictedReading[]> =>
  (
    await settle(
      api.POST("/api/predictions", {
        body: {
          document,
          readings: readings.map(({ kind, at_m, instrument_id }) => ({
            kind,
            at_m: at_m ?? null,
            instrument_id: instrument_id ?? null,
          })),
        },
        signal: signal ?? null,
      }),
    )
  ).predictions;

export const fitReadings = (
  planId: string,
  document: PlanDocument,
  signal: AbortSignal,
): Promise<ReadingFit> =>
  settle(api.POST("/api/plans/{plan_id}/fit", { ...ofPlan(planId), body: { document }, signal }));

export const describeMeasured = (document: PlanDocument): Promise<Schemas["MeasuredResponse"]> =>
  settle(api.POST("/api/measured", { body: { document } }));

export const fetchCommissioningTest = (
  planId: string,
): Promise<Schemas["CommissioningTestModel"]> =>
  settle(api.GET("/api/plans/{plan_id}/commissioning-test", ofPlan(planId)));

export const beginCommissioningTest = (
  planId: string,
  body: Schemas["BeginCommissioningTest"],
): Promise<Schemas["CommissioningTestModel"]> =>
  settle(api.PUT("/api/plans/{plan_id}/commissioning-test", { ...ofPlan(planId), body }));

export const signCommissioningTest = (
  planId: string,
  by: string,
  remarks: string,
): Promise<Schemas["CommissioningTestModel"]> =>
  settle(
    api.POST("/api/plans/{plan_id}/commissioning-test/signature", {
      ...ofPlan(planId),
      body: { by, remarks },
    }),
  );

export const unsignCommissioningTest = (
  planId: string,
): Promise<Schemas["CommissioningTestModel"]> =>
  settle(api.DELETE("/api/plans/{plan_id}/commissioning-test/signature", ofPlan(planId)));

export const fetchBehaviour = (planId: string): Promise<Schemas["BehaviourModel"]> =>
  settle(api.GET("/api/plans/{plan_id}/behaviour", ofPlan(planId)));

export const putSighting = (
  planId: string,
  body: Schemas["SightingModel"],
): Promise<Schemas["SightingModel"]> =>
  settle(api.PUT("/api/plans/{plan_id}/behaviour", { ...ofPlan(planId), body }));

export const removeSighting = (sighting_id: string): Promise<unknown> =>
  settle(api.DELETE("/api/sightings/{sighting_id}", { params: { path: { sighting_id } } }));
