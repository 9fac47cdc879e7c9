import { describe, expect, it } from "vitest";
import type { Evaluation } from "../../api/types";
import { failing } from "./useEvaluation";

const check = (id: string, severity: string, status = "high") => ({ id, severity, status });
const finding = (id: string, severity: string) => ({ id, severity });

describe("what fixes are searched for", () => {
  it("begins with dangers of the plan and ends with what is only offered", () => {
    const result = {
      checks: [
        check("ok", "none", "ok"),
        check("optional-uv", "note", "low"),
        check("too-hot", "danger"),
        check("too-cold", "fault", "low"),
      ],
      findings: [finding("mat-under-digger", "danger"), finding("no-hide", "care")],
    } as unknown as Evaluation;
    expect(failing(result)).toEqual([
      "mat-under-digger",
      "too-hot",
      "too-cold",
      "no-hide",
      "optional-uv",
    ]);
  });

  it("skips checks without a figure", () => {
    const result = {
      checks: [check("unread", "fault", "unknown"), check("offered", "note", "unknown")],
      findings: [],
    } as unknown as Evaluation;
    expect(failing(result)).toEqual([]);
  });
});
