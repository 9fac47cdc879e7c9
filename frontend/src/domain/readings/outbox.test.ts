import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Reading } from "../../api/types";

const put = vi.hoisted(() => vi.fn());
vi.mock("../../api/readings", () => ({ putReadings: put }));
vi.mock("../../api/client", () => ({ ProblemError: class extends Error {} }));

const reading = (id: string, value = 30) => ({ id, value, kind: "air" }) as unknown as Reading;
const stored = new Map<string, string>();
const KEY = "readings-outbox";
const waiting = (): { reading: Reading; refused?: string }[] => JSON.parse(stored.get(KEY) ?? "[]");

async function outbox() {
  vi.resetModules();
  return import("./outbox");
}

beforeEach(() => {
  vi.useFakeTimers();
  stored.clear();
  put.mockReset();
  vi.stubGlobal("localStorage", {
    getItem: (key: string) => stored.get(key) ?? null,
    setItem: (key: string, value: string) => void stored.set(key, value),
  });
  vi.stubGlobal("window", { addEventListener: () => undefined });
});

afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

describe("the outbox", () => {
  it("holds a reading until it is known to be stored", async () => {
    let answer: (value: unknown) => void = () => undefined;
    put.mockReturnValue(new Promise((resolve) => (answer = resolve)));
    const { post } = await outbox();
    post("lizard", reading("a"));
    expect(waiting().map((w) => w.reading.id)).toEqual(["a"]);
    answer({ stored: ["a"], refused: [] });
    await vi.advanceTimersByTimeAsync(1);
    expect(waiting()).toEqual([]);
  });

  it("tries again without a connection, and loses nothing", async () => {
    put.mockRejectedValueOnce(new Error("offline"));
    put.mockResolvedValue({ stored: ["a"], refused: [] });
    const { post } = await outbox();
    post("lizard", reading("a"));
    await vi.advanceTimersByTimeAsync(1);
    expect(waiting()).toHaveLength(1);
    await vi.advanceTimersByTimeAsync(8001);
    expect(put).toHaveBeenCalledTimes(2);
    expect(waiting()).toEqual([]);
  });

  it("keeps a newer edit when an answer about the older one comes", async () => {
    let answer: (value: unknown) => void = () => undefined;
    put.mockReturnValueOnce(new Promise((resolve) => (answer = resolve)));
    put.mockReturnValue(new Promise(() => undefined));
    const { post } = await outbox();
    post("lizard", reading("a", 30));
    post("lizard", reading("a", 31));
    answer({ stored: ["a"], refused: [] });
    await vi.advanceTimersByTimeAsync(1);
    expect(waiting().map((w) => w.reading.value)).toEqual([31]);
  });

  it("names why one is refused and sends the others", async () => {
    put.mockResolvedValue({ stored: ["b"], refused: [{ id: "a", reason: "too warm" }] });
    const { post, discard } = await outbox();
    post("lizard", reading("a"));
    post("lizard", reading("b"));
    await vi.advanceTimersByTimeAsync(5);
    expect(waiting().map((w) => [w.reading.id, w.refused])).toEqual([["a", "too warm"]]);
    discard("a");
    expect(waiting()).toEqual([]);
  });

  it("goes on after the page was closed", async () => {
    stored.set(KEY, JSON.stringify([{ planId: "lizard", reading: reading("a"), stamp: 1 }]));
    put.mockResolvedValue({ stored: ["a"], refused: [] });
    await outbox();
    await vi.advanceTimersByTimeAsync(1);
    expect(put).toHaveBeenCalledWith("lizard", [reading("a")]);
    expect(waiting()).toEqual([]);
  });
});
