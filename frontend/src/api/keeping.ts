/** Animals, the logbook and its photographs, over HTTP. */
import { api, settle } from "./client";
import type { Animal, KnownAnimal, Logbook, LogEntry, Photo, Timeline } from "./types";

export const fetchAnimals = async (): Promise<readonly KnownAnimal[]> =>
  (await settle(api.GET("/api/animals"))).animals;

export const putAnimal = (animal: Animal): Promise<Animal> =>
  settle(api.PUT("/api/animals", { body: animal }));

export const removeAnimal = (animal_id: string): Promise<unknown> =>
  settle(api.DELETE("/api/animals/{animal_id}", { params: { path: { animal_id } } }));

/** Which entries are wanted; days as the calendar has them here. */
export interface Sought {
  readonly plan?: string;
  readonly animal?: string;
  readonly kinds?: string;
  readonly words?: string;
  readonly since?: string;
  readonly until?: string;
  readonly zone: string;
  readonly most?: number;
  readonly skip?: number;
}

export const fetchLogbook = (sought: Sought, signal?: AbortSignal): Promise<Logbook> =>
  settle(
    api.GET("/api/logbook", {
      // Kinds go with commas, not as a list.
      params: { query: sought as never },
      signal: signal ?? null,
    }),
  );

/** Where every entry that fits is had as a file. */
export function logbookFile(sought: Sought, ending: "csv" | "json"): string {
  const query = new URLSearchParams();
  for (const [key, value] of Object.entries(sought)) {
    if (value !== undefined && value !== "") query.set(key, String(value));
  }
  return `/api/logbook.${ending}?${query}`;
}

export const putEntry = (entry: LogEntry): Promise<LogEntry> =>
  settle(api.PUT("/api/logbook", { body: entry }));

export const removeEntry = (entry_id: string): Promise<unknown> =>
  settle(api.DELETE("/api/logbook/{entry_id}", { params: { path: { entry_id } } }));

export const addPhoto = (entry_id: string, id: string, file: File): Promise<Photo> =>
  settle(
    api.POST("/api/logbook/{entry_id}/photos", {
      params: { path: { entry_id }, query: { id } },
      body: file as unknown as string,
      bodySerializer: (body) => body as unknown as BodyInit,
      headers: { "Content-Type": file.type || "application/octet-stream" },
    }),
  );

const ofPhoto = (photo_id: string) => ({ params: { path: { photo_id } } });

export const removePhoto = (photoId: string): Promise<unknown> =>
  settle(api.DELETE("/api/photos/{photo_id}", ofPhoto(photoId)));

export const bringPhotoBack = (photoId: string): Promise<Photo> =>
  settle(api.POST("/api/photos/{photo_id}/bring-back", ofPhoto(photoId)));

export const fetchTimeline = (plan_id: string): Promise<Timeline> =>
  settle(api.GET("/api/plans/{plan_id}/timeline", { params: { path: { plan_id } } }));
