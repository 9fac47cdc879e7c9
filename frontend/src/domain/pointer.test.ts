import { expect, test } from "vitest";
import { placeInWords } from "./pointer";

test.each([
  ["/fixtures/0/power_w", "fixtures 1, power"],
  ["/room/months/11/day_temperature_c", "room, months 12, day temperature"],
  ["/size", "size"],
  ["/a~1b/c~0d", "a/b, c~d"],
  ["/3/name", "4, name"],
  ["", ""],
])("the place %j is %j in words", (pointer, words) => {
  expect(placeInWords(pointer)).toBe(words);
});
