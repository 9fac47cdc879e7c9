/** Tasks and the day's round, over HTTP. */
import { api, settle } from "./client";
import type { KnownTask, LogEntry, Task, TaskMark, Today, UsualTask } from "./types";

export const fetchToday = (on: string): Promise<Today> =>
  settle(api.GET("/api/today", { params: { query: { on } } }));

/** Tasks of an enclosure, or those of the whole room. */
export const fetchTasks = async (on: string, plan: string | null): Promise<readonly KnownTask[]> =>
  (await settle(api.GET("/api/tasks", { params: { query: plan ? { on, plan } : { on } } }))).tasks;

export const putTask = (task: Task): Promise<Task> => settle(api.PUT("/api/tasks", { body: task }));

export const removeTask = (task_id: string): Promise<unknown> =>
  settle(api.DELETE("/api/tasks/{task_id}", { params: { path: { task_id } } }));

/** Mark a day of a task, with what is written down along with it: all of it or nothing, also if the page is left. */
export const markTask = (
  task_id: string,
  mark: TaskMark,
  entries: LogEntry[] = [],
): Promise<KnownTask> =>
  settle(
    api.PUT("/api/tasks/{task_id}/marks", {
      params: { path: { task_id } },
      body: { ...mark, entries },
      keepalive: true,
    }),
  );

export const unmarkTask = (task_id: string, due_on: string): Promise<unknown> =>
  settle(
    api.DELETE("/api/tasks/{task_id}/marks/{due_on}", { params: { path: { task_id, due_on } } }),
  );

/** What is usually done for an enclosure, or for the room. */
export const fetchUsual = async (
  on: string,
  plan_id: string | null,
): Promise<readonly UsualTask[]> =>
  (
    await settle(
      plan_id
        ? api.GET("/api/plans/{plan_id}/usual-tasks", {
            params: { path: { plan_id }, query: { on } },
          })
        : api.GET("/api/room/usual-tasks", { params: { query: { on } } }),
    )
  ).tasks;

export const takeUsual = async (
  on: string,
  plan_ids: readonly string[],
  room: boolean,
): Promise<readonly string[]> =>
  (await settle(api.POST("/api/usual-tasks", { body: { on, plan_ids: [...plan_ids], room } })))
    .made;
