import { ChevronDown } from "lucide-react";

export interface PointingProps {
  onPoint: (id: string | null) => void;
}

/** Pointing at or reaching a line by keyboard shows its place in the drawing. */
export const pointing = (id: string, onPoint: PointingProps["onPoint"]) => ({
  onPointerEnter: () => onPoint(id),
  onPointerLeave: () => onPoint(null),
  onFocus: () => onPoint(id),
  onBlur: () => onPoint(null),
});

/** Whether a line is open, at its end. */
export function Chevron({ open }: { open: boolean }) {
  return (
    <ChevronDown
      size={15}
      aria-hidden
      className={`shrink-0 text-soft ${open ? "rotate-180" : ""}`}
    />
  );
}
