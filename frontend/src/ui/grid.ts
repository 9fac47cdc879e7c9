/** Classes of a grid of fields. */
export const GRID =
  "grid grid-cols-[repeat(auto-fill,minmax(min(100%,16.5rem),1fr))] gap-x-6 gap-y-3";
