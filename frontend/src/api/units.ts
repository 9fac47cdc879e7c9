/** The lamp register, over HTTP. */
import { api, settle } from "./client";
import type { Hung, LampRegister, LampUnit, Shortfall } from "./types";

export const fetchRegister = (on: string): Promise<LampRegister> =>
  settle(api.GET("/api/lamp-units", { params: { query: { on } } }));

export const putUnit = (unit: LampUnit): Promise<LampUnit> =>
  settle(api.PUT("/api/lamp-units", { body: unit }));

const ofUnit = (unit_id: string) => ({ params: { path: { unit_id } } });

export const removeUnit = (unitId: string): Promise<unknown> =>
  settle(api.DELETE("/api/lamp-units/{unit_id}", ofUnit(unitId)));

export const registerLamps = async (
  on: string,
  plan_ids: readonly string[],
): Promise<readonly string[]> =>
  (await settle(api.POST("/api/lamp-units/register", { body: { on, plan_ids: [...plan_ids] } })))
    .made;

export const hangUnit = (
  unitId: string,
  body: { plan_id: string; fixture_id: string; on: string; old: "spare" | "retired" },
): Promise<Hung> => settle(api.POST("/api/lamp-units/{unit_id}/hang", { ...ofUnit(unitId), body }));

export const takeDown = (unitId: string, on: string, retire: boolean): Promise<unknown> =>
  settle(
    api.POST("/api/lamp-units/{unit_id}/take-down", { ...ofUnit(unitId), body: { on, retire } }),
  );

const ofPlan = (plan_id: string) => ({ params: { path: { plan_id } } });

/** Bring the hours of a plan's lamps to those of the register. */
export const setLampHours = (planId: string, on: string): Promise<{ revision: number }> =>
  settle(api.PUT("/api/plans/{plan_id}/lamp-hours", { ...ofPlan(planId), body: { on } }));

/** When a plan no longer meets its UV need; null where it needs none or nothing ages. */
export const fetchLampOutlook = async (
  plan_id: string,
  on: string,
  signal?: AbortSignal,
): Promise<Shortfall | null> =>
  (
    await settle(
      api.GET("/api/plans/{plan_id}/lamp-outlook", {
        params: { path: { plan_id }, query: { on } },
        signal: signal ?? null,
      }),
    )
  ).shortfall;
