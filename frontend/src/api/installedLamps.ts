/** The lamp register, over HTTP. */
import { api, settle } from "./client";
import type { InstallationResult, InstalledLamp, LampRegister, Shortfall } from "./types";

export const fetchRegister = (on: string): Promise<LampRegister> =>
  settle(api.GET("/api/installed-lamps", { params: { query: { on } } }));

export const putInstalledLamp = (unit: InstalledLamp): Promise<InstalledLamp> =>
  settle(api.PUT("/api/installed-lamps", { body: unit }));

const ofUnit = (installed_lamp_id: string) => ({ params: { path: { installed_lamp_id } } });

export const removeInstalledLamp = (installedLampId: string): Promise<unknown> =>
  settle(api.DELETE("/api/installed-lamps/{installed_lamp_id}", ofUnit(installedLampId)));

export const registerLamps = async (
  on: string,
  plan_ids: readonly string[],
): Promise<readonly string[]> =>
  (
    await settle(
      api.POST("/api/installed-lamps/register", { body: { on, plan_ids: [...plan_ids] } }),
    )
  ).made;

export const installLamp = (
  installedLampId: string,
  body: { plan_id: string; fixture_id: string; on: string; old: "spare" | "retired" },
): Promise<InstallationResult> =>
  settle(
    api.POST("/api/installed-lamps/{installed_lamp_id}/install", {
      ...ofUnit(installedLampId),
      body,
    }),
  );

export const takeDown = (installedLampId: string, on: string, retire: boolean): Promise<unknown> =>
  settle(
    api.POST("/api/installed-lamps/{installed_lamp_id}/take-down", {
      ...ofUnit(installedLampId),
      body: { on, retire },
    }),
  );

const ofPlan = (plan_id: string) => ({ params: { path: { plan_id } } });

/** Bring the hours of a plan's lamps to those of the register. */
export const setLampHours = (planId: string, on: string): Promise<{ revision: number }> =>
  settle(api.PUT("/api/plans/{plan_id}/lamp-hours", { ...ofPlan(planId), body: { on } }));

/** When a plan no longer meets its UV need; null where it needs none or nothing ages. */
export const fetchLampForecast = async (
  plan_id: string,
  on: string,
  signal?: AbortSignal,
): Promise<Shortfall | null> =>
  (
    await settle(
      api.GET("/api/plans/{plan_id}/lamp-forecast", {
        params: { path: { plan_id }, query: { on } },
        signal: signal ?? null,
      }),
    )
  ).shortfall;
