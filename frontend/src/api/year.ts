/** The year of an enclosure, over HTTP. */
import { api, settle } from "./client";
import type { MonthChecked, PlanDocument, YearShown } from "./types";

export const fetchYear = (document: PlanDocument, signal?: AbortSignal): Promise<YearShown> =>
  settle(api.POST("/api/year", { body: { document }, signal: signal ?? null }));

/** Check one month with the full model. */
export const fetchMonth = (
  document: PlanDocument,
  month: number,
  signal: AbortSignal,
): Promise<MonthChecked> =>
  settle(api.POST("/api/year/month", { body: { document, month }, signal }));

export const fetchCalendarAddress = async (): Promise<string | null> =>
  (await settle(api.GET("/api/calendar-address"))).path;

/** Make an address for calendars on the network; an older one is void. */
export const newCalendarAddress = async (): Promise<string | null> =>
  (await settle(api.POST("/api/calendar-address"))).path;
