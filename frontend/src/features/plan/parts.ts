/** Parts every plan has. */
export const PARTS = [
  { id: "furnishings", label: "Furnishings" },
  { id: "animal", label: "Animal" },
  { id: "enclosure", label: "Enclosure" },
  { id: "lid", label: "Lid" },
  { id: "substrate", label: "Substrate" },
  { id: "moisture", label: "Moisture" },
  { id: "room", label: "Room" },
] as const;
