import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { type History, type HistoryAction, historyReducer, initialHistory } from "./history";
import { PLAN } from "./plan.fixture";

const named = (name: string) => ({ ...PLAN, name });
const commit = (name: string): HistoryAction => ({
  type: "commit",
  document: named(name),
  summary: `Named ${name}`,
});
const run = (actions: readonly HistoryAction[]): History =>
  actions.reduce(historyReducer, initialHistory(named("start")));

describe("historyReducer", () => {
  it("goes back and forth one edit at a time", () => {
    const state = run([commit("a"), commit("b"), { type: "undo" }]);
    expect(state.present.document.name).toBe("a");
    expect(historyReducer(state, { type: "redo" }).present.summary).toBe("Named b");
  });

  it("drops what was undone when something else is done", () => {
    const state = run([commit("a"), { type: "undo" }, commit("b"), { type: "redo" }]);
    expect(state.present.document.name).toBe("b");
    expect(state.future).toEqual([]);
  });

  it("keeps a drag in progress out of the history", () => {
    const state = run([{ type: "preview", document: named("moving") }]);
    expect(state.preview?.name).toBe("moving");
    expect(state.past).toEqual([]);
    expect(historyReducer(state, { type: "cancel" }).preview).toBeNull();
  });

  it("takes an edit that changes nothing for none", () => {
    expect(run([commit("a"), commit("a")]).past).toHaveLength(1);
  });

  it("holds at most two hundred edits", () => {
    const edits = Array.from({ length: 230 }, (_, i) => commit(String(i)));
    const state = run(edits);
    expect(state.past).toHaveLength(200);
    expect(state.past[0]?.document.name).toBe("29");
  });

  it("comes back to where it was after any undo and redo", () => {
    fc.assert(
      fc.property(fc.array(fc.string(), { maxLength: 12 }), fc.nat({ max: 12 }), (names, back) => {
        const state = run(names.map(commit));
        const steps = Math.min(back, state.past.length);
        let there = state;
        for (let i = 0; i < steps; i++) there = historyReducer(there, { type: "undo" });
        for (let i = 0; i < steps; i++) there = historyReducer(there, { type: "redo" });
        expect(there.present).toEqual(state.present);
        expect(there.past).toEqual(state.past);
      }),
    );
  });
});
