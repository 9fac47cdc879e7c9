import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { delay } from "./delay";

describe("delay", () => {
  beforeEach(() => {
    vi.useFakeTimers();
  });
  afterEach(() => {
    vi.useRealTimers();
  });

  it("waits as long as it is told to", async () => {
    const done = vi.fn();
    void delay(350, new AbortController().signal).then(done);
    await vi.advanceTimersByTimeAsync(349);
    expect(done).not.toHaveBeenCalled();
    await vi.advanceTimersByTimeAsync(1);
    expect(done).toHaveBeenCalled();
  });

  it("ends at once when it is aborted, with the reason", async () => {
    const control = new AbortController();
    const waiting = delay(350, control.signal);
    control.abort(new Error("left"));
    await expect(waiting).rejects.toThrow("left");
    expect(vi.getTimerCount()).toBe(0);
  });

  it("does not begin when it was aborted before", async () => {
    await expect(delay(350, AbortSignal.abort())).rejects.toThrow();
    expect(vi.getTimerCount()).toBe(0);
  });
});
