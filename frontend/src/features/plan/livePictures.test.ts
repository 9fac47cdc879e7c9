import { expect, test } from "vitest";
import type { Picture, PictureQuestion } from "../../api/picture";
import type { PlanDocument } from "../../api/types";
import { LivePictures } from "./livePictures";
import { RESTING_MS } from "./useEvaluation";

const documentOf = (name: string) => ({ name }) as PlanDocument;
const about = (document: PlanDocument): PictureQuestion => ({
  document,
  layer: "uvi",
  view: { from: "front", depth: null, height: null },
  lampAge: "present",
  powerFraction: {},
});

/** Pictures that are answered by hand, in the order in which they were asked for. */
function byHand() {
  const asked: { name: string; answer: (picture: Picture) => void; fail: () => void }[] = [];
  const previewed: string[] = [];
  const pictures = new LivePictures(
    (document) => previewed.push(document.name),
    (question) =>
      new Promise((answer, fail) => asked.push({ name: question.document.name, answer, fail })),
  );
  return { asked, pictures, previewed };
}

const turn = () => new Promise((done) => setTimeout(done));

test("what comes while a picture is computed is skipped but for the newest", async () => {
  const { asked, pictures } = byHand();
  for (const name of ["a", "b", "c"]) pictures.ask(about(documentOf(name)));
  expect(asked.map((a) => a.name)).toEqual(["a"]);
  asked[0]?.answer({});
  await turn();
  expect(asked.map((a) => a.name)).toEqual(["a", "c"]);
  asked[1]?.answer({});
  await turn();
  expect(asked).toHaveLength(2);
});

test("a picture gives way to an evaluation of the same or a later document", async () => {
  const { asked, pictures } = byHand();
  const [before, moved, dropped] = ["before", "moved", "dropped"].map(documentOf) as [
    PlanDocument,
    PlanDocument,
    PlanDocument,
  ];
  pictures.setPlan(before, null);
  pictures.ask(about(moved));
  pictures.setPlan(dropped, before);
  let calls = 0;
  pictures.subscribe(() => calls++);
  const picture: Picture = {};
  asked[0]?.answer(picture);
  await turn();
  expect(calls).toBe(1);
  expect(pictures.picture()).toBe(picture);
  pictures.setPlan(dropped, moved);
  expect(pictures.picture()).toBeNull();
  pictures.setPlan(dropped, dropped);
  expect(pictures.picture()).toBeNull();
});

test("what is around the drawing is given steps of a drag now and then, and none after it", async () => {
  const { pictures, previewed } = byHand();
  let told = 0;
  pictures.subscribe(() => told++);
  for (const name of ["a", "b", "c"]) pictures.move(documentOf(name));
  expect(told).toBe(3);
  expect(pictures.moving()?.name).toBe("c");
  await turn();
  expect(previewed).toEqual(["c"]);
  expect(pictures.pace()).toBe("now and then");
  await new Promise((done) => setTimeout(done, RESTING_MS + 20));
  expect(pictures.pace()).toBe("at once");
  expect(previewed).toEqual(["c", "c"]);
  pictures.move(documentOf("d"));
  expect(pictures.pace()).toBe("now and then");
  pictures.drop();
  expect(pictures.moving()).toBeNull();
  await new Promise((done) => setTimeout(done, 350));
  expect(previewed).toEqual(["c", "c"]);
});

test("a document of a drag that is over is not shown in the next one", async () => {
  const { asked, pictures } = byHand();
  const shown: string[] = [];
  const show = (document: PlanDocument) => shown.push(document.name);
  pictures.ask(about(documentOf("first drag")), show);
  pictures.drop();
  pictures.ask(about(documentOf("second drag")), show);
  asked[0]?.answer({});
  await turn();
  expect(shown).toEqual([]);
  asked[1]?.answer({});
  await turn();
  expect(shown).toEqual(["second drag"]);
});

test("what is later meanwhile is shown with its own picture, after the one before", async () => {
  const { asked, pictures } = byHand();
  const shown: string[] = [];
  const show = (document: PlanDocument) => shown.push(document.name);
  pictures.ask(about(documentOf("here")), show);
  pictures.ask(about(documentOf("there")), show);
  asked[0]?.answer({});
  await turn();
  asked[1]?.answer({});
  await turn();
  expect(shown).toEqual(["here", "there"]);
});

test("one that cannot be computed leaves the one before and holds up no other", async () => {
  const { asked, pictures } = byHand();
  const first = documentOf("first");
  pictures.ask(about(first));
  const picture: Picture = {};
  asked[0]?.answer(picture);
  await turn();
  pictures.ask(about(documentOf("impossible")));
  asked[1]?.fail();
  await turn();
  pictures.setPlan(documentOf("another"), null);
  expect(pictures.picture()).toBe(picture);
  pictures.ask(about(documentOf("next")));
  expect(asked.map((a) => a.name)).toEqual(["first", "impossible", "next"]);
});
