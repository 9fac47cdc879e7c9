/** Growth, company and new arrivals, over HTTP. */
import { api, settle } from "./client";
import type { Arrival, Arrivals, Cohabitation, EnclosureRole, Growth, PlanDocument } from "./types";

const ofPlan = (plan_id: string) => ({ params: { path: { plan_id } } });

export const fetchGrowth = (
  planId: string,
  document: PlanDocument,
  on: string,
  signal: AbortSignal,
): Promise<Growth> =>
  settle(
    api.POST("/api/plans/{plan_id}/growth", { ...ofPlan(planId), body: { document, on }, signal }),
  );

export const fetchCohabitation = (planId: string): Promise<Cohabitation> =>
  settle(api.GET("/api/plans/{plan_id}/cohabitation", ofPlan(planId)));

export const setEnclosureRole = (planId: string, role: EnclosureRole): Promise<unknown> =>
  settle(api.PUT("/api/plans/{plan_id}/role", { ...ofPlan(planId), body: { role } }));

export const fetchArrivals = (plan_id: string, on: string): Promise<Arrivals> =>
  settle(
    api.GET("/api/plans/{plan_id}/arrivals", { params: { path: { plan_id }, query: { on } } }),
  );

export const beginArrival = (
  planId: string,
  body: { animal_id: string; on: string; days: number },
): Promise<Arrival> =>
  settle(api.POST("/api/plans/{plan_id}/arrivals", { ...ofPlan(planId), body }));

const ofAnimal = (animal_id: string) => ({ params: { path: { animal_id } } });

export const releaseAnimal = (animalId: string, on: string, text: string): Promise<unknown> =>
  settle(
    api.POST("/api/animals/{animal_id}/release", { ...ofAnimal(animalId), body: { on, text } }),
  );

export const removeArrival = (animalId: string): Promise<unknown> =>
  settle(api.DELETE("/api/animals/{animal_id}/arrival", ofAnimal(animalId)));
