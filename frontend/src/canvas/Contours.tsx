import { memo, useMemo } from "react";
import { contourLines, type Field, type FieldScale } from "./fields";
import { type Box, LETTER_PX, shared } from "./labels";
import type { Projection } from "./projection";

interface ContoursProps {
  field: Field;
  scale: FieldScale;
  projection: Projection;
  format: (value: number) => string;
  /** The range wanted somewhere in the picture; its ends are marked. */
  wanted: WantedRange | null;
  /** Labels its figures keep clear of. */
  avoid: readonly Box[];
  /** Drawn many times a second: without what only pleases the eye. */
  hurried: boolean;
}

export interface WantedRange {
  readonly low: number | null;
  readonly high: number | null;
}

type P = readonly [number, number];

const SMALL_RING_PX = 90;

/** Lines of equal value with their figures; without the closing pieces along the edge of the enclosure. */
export const Contours = memo(function Contours({
  field,
  scale,
  projection: p,
  format,
  wanted,
  avoid,
  hurried,
}: ContoursProps) {
  const lines = useMemo(() => {
    const dx = (field.x1 - field.x0) / (field.nx - 1);
    const dz = (field.z1 - field.z0) / (field.nz - 1);
    const onEdge = ([x, z]: P) =>
      x < field.x0 + 0.3 * dx ||
      x > field.x1 - 0.3 * dx ||
      z < field.z0 + 0.3 * dz ||
      z > field.z1 - 0.3 * dz;
    const ends = new Map<number, string>();
    if (wanted?.low != null) ends.set(wanted.low, "from");
    if (wanted?.high != null) ends.set(wanted.high, "up to");
    // The ends of the range wanted come last, over all others.
    const levels = [...scale.levels.filter((level) => !ends.has(level)), ...ends.keys()];
    return contourLines(field, levels).map((line) => ({
      level: line.level,
      end: ends.get(line.level),
      runs: line.rings.flatMap((ring) => split(ring, onEdge)).filter((run) => run.length > 3),
    }));
  }, [field, scale, wanted]);

  const taken: Box[] = [...avoid];
  return (
    <g aria-hidden="true" className="pointer-events-none">
      {lines.map(({ level, end, runs }) => {
        const bright = scale.share(level) > 0.6;
        const stroke = bright ? "rgb(25 20 40 / 0.5)" : "rgb(255 255 255 / 0.6)";
        const text = end ? `${end} ${format(level)}` : format(level);
        const label = runs.length > 0 ? labelSpot(runs, text, p, taken) : null;
        if (label) taken.push(boxAround(label, text));
        if (end) {
          const d = runs.map((run) => path(run, p)).join("");
          return (
            <g key={level} data-testid="wanted-line">
              {!hurried && (
                <path d={d} fill="none" stroke="white" strokeOpacity={0.85} strokeWidth={4.5} />
              )}
              <path d={d} className="fill-none stroke-wanted" strokeWidth={2.25} />
              {label && (
                <text
                  x={label[0]}
                  y={label[1]}
                  dy="0.35em"
                  textAnchor="middle"
                  className="fill-wanted text-[11px] font-bold"
                  stroke="white"
                  strokeWidth={4}
                  paintOrder="stroke"
                  data-testid="contour-figure"
                >
                  {text}
                </text>
              )}
            </g>
          );
        }
        return (
          <g key={level}>
            <path
              d={runs.map((run) => path(run, p)).join("")}
              fill="none"
              stroke={stroke}
              strokeWidth={1}
            />
            {label && (
              <text
                x={label[0]}
                y={label[1]}
                dy="0.35em"
                textAnchor="middle"
                className="text-[11px] font-semibold"
                fill={bright ? "rgb(25 20 40)" : "white"}
                stroke={bright ? "rgb(255 250 240 / 0.65)" : "rgb(20 16 34 / 0.6)"}
                strokeWidth={3}
                paintOrder="stroke"
                data-testid="contour-figure"
              >
                {text}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
});

function split(ring: readonly P[], onEdge: (point: P) => boolean): P[][] {
  const runs: P[][] = [];
  let run: P[] = [];
  for (const point of ring) {
    if (onEdge(point)) {
      if (run.length > 1) runs.push(run);
      run = [];
    } else run.push(point);
  }
  if (run.length > 1) runs.push(run);
  return runs;
}

function path(run: readonly P[], p: Projection): string {
  return run
    .map(([x, z], i) => `${i ? "L" : "M"}${p.x(x).toFixed(1)} ${p.y(z).toFixed(1)}`)
    .join("");
}

const FIGURE_HEIGHT_PX = 12;
/** Between figures of lines, so that they do not read as one. */
const FIGURES_APART_PX = 8;
const ALONG = [0.8, 0.6, 0.95, 0.4, 0.2, 0.05, 0.7, 0.5, 0.3, 0.9, 0.1];

const boxAround = ([x, y]: P, text: string): Box => ({
  x: x - (LETTER_PX * text.length) / 2,
  y: y - FIGURE_HEIGHT_PX / 2,
  width: LETTER_PX * text.length,
  height: FIGURE_HEIGHT_PX,
});

/** A point on the longest run where the figure keeps clear of other labels; null if there is none. */
function labelSpot(
  runs: readonly P[][],
  text: string,
  p: Projection,
  taken: readonly Box[],
): P | null {
  const longest = runs.reduce((a, b) => (b.length > a.length ? b : a));
  const across = longest.map(([x]) => p.x(x));
  // Small rings close around a lamp, which would cover their figure.
  if (Math.max(...across) - Math.min(...across) < SMALL_RING_PX) return null;
  // High up first: low down, furnishings and their names would cover it.
  const heights = longest.map(([, z]) => z);
  const middle = (Math.min(...heights) + Math.max(...heights)) / 2;
  const [upper, lower] = [
    longest.filter(([, z]) => z >= middle),
    longest.filter(([, z]) => z < middle),
  ];
  for (const part of [upper, lower]) {
    for (const share of ALONG) {
      const point = part[Math.floor(share * (part.length - 1))];
      if (!point) continue;
      const spot: P = [p.x(point[0]), p.y(point[1])];
      const box = boxAround(spot, text);
      if (taken.every((other) => shared(box, other, FIGURES_APART_PX) === 0)) return spot;
    }
  }
  return null;
}
