import type { Box } from "./labels";

/** The ground a name and its figure are written on. */
export function Plate({ box: { x, y, width, height } }: { box: Box }) {
  return (
    <rect
      x={x}
      y={y}
      width={width}
      height={height}
      rx={5}
      className="fill-panel stroke-line"
      fillOpacity={0.92}
    />
  );
}
