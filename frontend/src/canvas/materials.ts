/** Materials of the catalogue that are drawn as stone; other furnishings are drawn as wood. */
const STONE: readonly string[] = ["slate", "clay-tile"];

export const isStone = (materialId: string): boolean => STONE.includes(materialId);
