interface DimensionProps {
  /** Both ends on the drawing, px; it runs level or upright. */
  from: readonly [number, number];
  to: readonly [number, number];
  text: string;
  /** Where along it the figure stands, from 0 at ``from`` to 1. */
  at?: number;
}

/** A distance in the drawing: a line with caps, legible over any colour, and its figure. */
export function Dimension({ from: [x0, y0], to: [x1, y1], text, at = 0.5 }: DimensionProps) {
  const level = y0 === y1;
  const cap = (x: number, y: number) => (level ? `M${x} ${y - 4}v8` : `M${x - 4} ${y}h8`);
  const [x, y] = [x0 + at * (x1 - x0), y0 + at * (y1 - y0)];
  return (
    <g className="pointer-events-none" aria-hidden="true">
      <line x1={x0} y1={y0} x2={x1} y2={y1} stroke="white" strokeWidth={3} strokeOpacity={0.75} />
      <line x1={x0} y1={y0} x2={x1} y2={y1} className="stroke-scale" strokeWidth={1.25} />
      <path d={cap(x0, y0) + cap(x1, y1)} className="stroke-scale" strokeWidth={1.25} />
      {level ? (
        <Tag x={x} y={y - 12} text={text} anchor="middle" />
      ) : (
        <Tag x={x + 7} y={y} text={text} />
      )}
    </g>
  );
}

interface TagProps {
  x: number;
  y: number;
  text: string;
  anchor?: "start" | "middle" | "end";
}

/** A figure on the drawing, legible over any colour. */
export function Tag({ x, y, text, anchor = "start" }: TagProps) {
  return (
    <text
      x={x}
      y={y}
      dy="0.35em"
      textAnchor={anchor}
      className="pointer-events-none fill-ink stroke-panel text-[12px] font-semibold"
      strokeWidth={3.5}
      paintOrder="stroke"
    >
      {text}
    </text>
  );
}
