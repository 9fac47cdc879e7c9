/** Classes of a grid of fields. */
export const GRID = "grid grid-cols-1 gap-x-6 gap-y-3 sm:grid-cols-2 xl:grid-cols-3";
