import { describe, expect, it } from "vitest";
import { GLOSSARY, matching, termOf } from "./glossary";

const TERMS = GLOSSARY.flatMap((g) => g.terms);

describe("the glossary", () => {
  it("has every term once, explained in full sentences", () => {
    expect(new Set(TERMS.map((t) => t.id)).size).toBe(TERMS.length);
    expect(new Set(TERMS.map((t) => t.term)).size).toBe(TERMS.length);
    for (const { text } of TERMS) expect(text).toMatch(/^[A-Z0-9].*\.$/);
  });

  it("is searched by any words of a term or its explanation", () => {
    expect(matching("uv meter flat").flatMap((g) => g.terms.map((t) => t.id))).toContain(
      "facing-level",
    );
    expect(matching("")).toEqual(GLOSSARY);
    expect(matching("no such word here")).toEqual([]);
  });

  it("finds a term by its id", () => {
    expect(termOf("uv-index")?.term).toBe("UV index (UVI)");
    expect(termOf("nothing")).toBeUndefined();
  });
});
