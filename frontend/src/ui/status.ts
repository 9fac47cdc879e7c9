/** How a check is shown: a shape first, a word, and only then a colour. */
import type { Status } from "../api/types";

export const STATUS_MARK: Record<Status, string> = {
  below: "▼",
  within: "●",
  above: "▲",
  cannot_tell: "?",
};
export const STATUS_WORD: Record<Status, string> = {
  below: "too low",
  within: "fits",
  above: "too high",
  cannot_tell: "cannot tell",
};
export const STATUS_INK: Record<Status, string> = {
  below: "text-low",
  within: "text-fit",
  above: "text-high",
  cannot_tell: "text-soft",
};
