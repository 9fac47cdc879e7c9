/** Loggers, their files and the keys of devices, over HTTP. */
import { api, settle } from "./client";
import type { components } from "./schema";
import type { Logger, LoggerMapping, LoggerPreview } from "./types";

type Schemas = components["schemas"];

const ofPlan = (plan_id: string) => ({ params: { path: { plan_id } } });
const ofLogger = (logger_id: string) => ({ params: { path: { logger_id } } });

export const fetchLoggers = async (planId: string): Promise<readonly Logger[]> =>
  (await settle(api.GET("/api/plans/{plan_id}/loggers", ofPlan(planId)))).loggers;

export const putLogger = (planId: string, body: Schemas["PutLogger"]): Promise<Logger> =>
  settle(api.PUT("/api/plans/{plan_id}/loggers", { ...ofPlan(planId), body }));

export const removeLogger = (id: string): Promise<unknown> =>
  settle(api.DELETE("/api/loggers/{logger_id}", ofLogger(id)));

export const newLoggerKey = async (id: string): Promise<string> =>
  (await settle(api.POST("/api/loggers/{logger_id}/key", ofLogger(id)))).key;

/** Look at a file; without a mapping one is guessed. */
export const previewFile = (
  id: string,
  text: string,
  zone: string,
  mapping: LoggerMapping | null,
  signal: AbortSignal,
): Promise<LoggerPreview> =>
  settle(
    api.POST("/api/loggers/{logger_id}/preview", {
      ...ofLogger(id),
      body: { text, zone, mapping },
      signal,
    }),
  );

export const takeInFile = (
  id: string,
  body: Schemas["ImportRequest"],
): Promise<Schemas["ImportResponse"]> =>
  settle(api.POST("/api/loggers/{logger_id}/files", { ...ofLogger(id), body }));

export const takeOutFile = (import_id: string): Promise<unknown> =>
  settle(api.DELETE("/api/files/{import_id}", { params: { path: { import_id } } }));
