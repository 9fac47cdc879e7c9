import type { Never } from "../../api/types";

/** What a keeper may not want to be used at all. */
export const NEVER: readonly { value: Never; label: string }[] = [
  { value: "mats", label: "Heat mats and cables" },
  { value: "ceramics", label: "Ceramic heaters" },
  { value: "mercury", label: "Lamps that hold mercury (tubes, compact and discharge lamps)" },
  { value: "misting", label: "Spraying" },
];
