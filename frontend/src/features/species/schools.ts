import type { School, StageName } from "../../api/types";

export const STAGE: Record<StageName, string> = {
  adult: "Adult",
  young: "Young",
  hatchling: "Hatchling",
  gravid: "Gravid female",
  larva: "Larva, in water",
  aquatic: "In water, to breed",
  land: "On land",
};

/** The schools of settling sources that disagree; the first is the default. */
export const SCHOOLS: readonly { value: School; label: string; help: string }[] = [
  {
    value: "overlap",
    label: "Where they agree",
    help: "the range that all sources share; where there is none, the most careful one. This is the default: no source then calls it wrong.",
  },
  {
    value: "average",
    label: "The average",
    help: "the mean of all lower and of all upper limits. Only fair where all are about the same thing.",
  },
  {
    value: "careful",
    label: "The most careful",
    help: "the lowest upper limit of heat and UV, the most shade, the narrowest humidity.",
  },
  {
    value: "home",
    label: "The wild climate",
    help: "air by day and night as at home in the active months; of surfaces and UV it says nothing.",
  },
];
