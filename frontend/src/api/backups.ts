/** Backups, over HTTP. */
import { api, settle } from "./client";
import type { BackupList, BackupSchedule, CheckedBackup } from "./types";

export const fetchBackups = (): Promise<BackupList> => settle(api.GET("/api/backups"));

export const makeBackup = (): Promise<CheckedBackup> => settle(api.POST("/api/backups"));

const named = (name: string) => ({ params: { path: { name } } });

export const checkBackup = (name: string): Promise<CheckedBackup> =>
  settle(api.POST("/api/backups/{name}/check", named(name)));

/** Restore a backup; returns the folder with the previous data. */
export const restoreBackup = async (name: string): Promise<string> =>
  (await settle(api.POST("/api/backups/{name}/restore", named(name)))).safety_copy;

export const restoreFile = async (file: File): Promise<string> =>
  (
    await settle(
      api.POST("/api/restore", {
        body: file as unknown as string,
        bodySerializer: (body) => body as unknown as BodyInit,
        headers: { "Content-Type": "application/zip" },
      }),
    )
  ).safety_copy;

export const setSchedule = (schedule: BackupSchedule): Promise<BackupSchedule> =>
  settle(api.PUT("/api/backups/schedule", { body: schedule }));
