import type { Species } from "../../api/types";

export type LayingPlace = NonNullable<Species["laying"]>["place"];

export const LAYING_PLACES: readonly LayingPlace[] = [
  "ground",
  "moist box",
  "plants",
  "live young",
];

/** Where gravid females lay. */
export const LAYING: Record<LayingPlace, string> = {
  ground: "in moist ground",
  "moist box": "in a moist hide",
  plants: "on plants and bark",
  "live young": "nowhere: they bear live young",
};
