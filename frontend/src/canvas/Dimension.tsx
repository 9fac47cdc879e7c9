import { type Box, freest, LETTER_PX } from "./labels";

interface DimensionProps {
  /** Both ends on the drawing, px; it runs level or upright. */
  from: readonly [number, number];
  to: readonly [number, number];
  text: string;
  /** Where along it the figure would be alone, from 0 at ``from`` to 1. */
  at?: number;
  /** Labels its figure keeps clear of. */
  avoid?: readonly Box[];
}

const FIGURE_HEIGHT_PX = 16;
/** How far from its line, where nearer there is no room. */
const ASIDE_PX = [0, 16, 32, 48, 64];
const ALONG = [0, 0.14, -0.14, 0.28, -0.28, 0.42];

/** Where the figure of a dimension goes: along its line and on the side that is free. */
export function figureBox({ from, to, text, at = 0.5, avoid = [] }: DimensionProps): Box {
  const [width, height] = [LETTER_PX * text.length, FIGURE_HEIGHT_PX];
  const level = from[1] === to[1];
  const spots = ALONG.map((step) => Math.min(0.92, Math.max(0.08, at + step))).map(
    (share) => [from[0] + share * (to[0] - from[0]), from[1] + share * (to[1] - from[1])] as const,
  );
  const boxes = ASIDE_PX.flatMap((aside) =>
    spots.flatMap(([x, y]) =>
      level
        ? [
            { x: x - width / 2, y: y - 12 - aside - height / 2, width, height },
            { x: x - width / 2, y: y + 12 + aside - height / 2, width, height },
          ]
        : [
            { x: x + 7 + aside, y: y - height / 2, width, height },
            { x: x - 7 - aside - width, y: y - height / 2, width, height },
          ],
    ),
  );
  return freest(boxes, avoid);
}

/** A distance in the drawing: a line with caps, legible over any colour, and its figure. */
export function Dimension(props: DimensionProps) {
  const {
    from: [x0, y0],
    to: [x1, y1],
    text,
  } = props;
  const level = y0 === y1;
  const cap = (x: number, y: number) => (level ? `M${x} ${y - 4}v8` : `M${x - 4} ${y}h8`);
  const box = figureBox(props);
  return (
    <g className="pointer-events-none" aria-hidden="true">
      <line x1={x0} y1={y0} x2={x1} y2={y1} stroke="white" strokeWidth={3} strokeOpacity={0.75} />
      <line x1={x0} y1={y0} x2={x1} y2={y1} className="stroke-scale" strokeWidth={1.25} />
      <path d={cap(x0, y0) + cap(x1, y1)} className="stroke-scale" strokeWidth={1.25} />
      <Tag box={box} text={text} testId="dimension" />
    </g>
  );
}

interface TagProps {
  box: Box;
  text: string;
  testId: string;
}

/** A figure on the drawing, legible over any colour. */
export function Tag({ box, text, testId }: TagProps) {
  return (
    <text
      data-testid={testId}
      x={box.x + box.width / 2}
      y={box.y + box.height / 2}
      dy="0.35em"
      textAnchor="middle"
      className="pointer-events-none fill-ink stroke-panel text-[12px] font-semibold"
      strokeWidth={3.5}
      paintOrder="stroke"
    >
      {text}
    </text>
  );
}
