/** How a check is shown: a shape first, a word, and only then a colour. */
import type { Status } from "../api/types";

export const STATUS_MARK: Record<Status, string> = {
  low: "▼",
  ok: "●",
  high: "▲",
  uncertain: "◇",
  unknown: "?",
};
export const STATUS_WORD: Record<Status, string> = {
  low: "too low",
  ok: "fits",
  high: "too high",
  uncertain: "uncertain",
  unknown: "unknown",
};
export const STATUS_INK: Record<Status, string> = {
  low: "text-low",
  ok: "text-fit",
  high: "text-high",
  uncertain: "text-ink",
  unknown: "text-soft",
};
