/** The practice bench, over HTTP. */
import { api, settle } from "./client";
import type { components } from "./schema";
import type { Puzzle, PuzzleAnswer } from "./types";

type Schemas = components["schemas"];

const of = (puzzle_id: string) => ({ params: { path: { puzzle_id } } });

export const fetchPuzzles = async (): Promise<readonly Schemas["PuzzleBrief"][]> =>
  (await settle(api.GET("/api/practice"))).puzzles;

export const fetchPuzzle = (id: string): Promise<Puzzle> =>
  settle(api.GET("/api/practice/{puzzle_id}", of(id)));

export const readPuzzle = (
  id: string,
  body: Schemas["ReadPractice"],
): Promise<Schemas["PracticeReading"]> =>
  settle(api.POST("/api/practice/{puzzle_id}/read", { ...of(id), body }));

/** What a thermostat's display shows at an hour; null while it is off. */
export const readDisplay = async (
  id: string,
  thermostat_id: string,
  hour: number,
): Promise<number | null> =>
  (
    await settle(
      api.POST("/api/practice/{puzzle_id}/display", { ...of(id), body: { thermostat_id, hour } }),
    )
  ).value;

export const answerPuzzle = (id: string, body: Schemas["AnswerPractice"]): Promise<PuzzleAnswer> =>
  settle(api.POST("/api/practice/{puzzle_id}/answer", { ...of(id), body }));
