import { scaleLinear } from "d3-scale";
import type { Claim, Need } from "../../api/types";
import { needFormat, type Quantity } from "../../domain/units/needs";
import { usePreferences } from "../../ui/preferences";

interface ClaimScaleProps {
  quantity: Quantity;
  claims: readonly Claim[];
  settled: Pick<Need, "low" | "high">;
  outliers: readonly number[];
}

const ROW = 24;
/** Room for the figures over the first claim. */
const TOP = 8;
const WIDTH = 420;
const LEFT = 6;
const SHARES: readonly Quantity[] = ["humidity", "uv_free_share"];

/** All claims about one figure on one scale, with the range they come to laid over them. */
export function ClaimScale({ quantity, claims, settled, outliers }: ClaimScaleProps) {
  const { units } = usePreferences();
  const { limit, unit } = needFormat(quantity, units);
  const share = SHARES.includes(quantity);
  const values = [...claims, settled]
    .flatMap((c) => [c.low, c.high])
    .filter((v): v is number => v !== null && v !== undefined);
  const least = Math.min(...values);
  const most = Math.max(...values);
  const pad = Math.max((most - least) * 0.2, share ? 0.05 : 0.5);
  const from = share || quantity === "uvi" ? Math.max(0, least - pad) : least - pad;
  const to = share ? Math.min(1, most + pad) : most + pad;
  const at = scaleLinear([from, to], [LEFT, WIDTH - LEFT]);
  const span = (low: number | null | undefined, high: number | null | undefined) =>
    [at(low ?? from), at(high ?? to)] as const;
  const [s0, s1] = span(settled.low, settled.high);
  const height = TOP + claims.length * ROW + 22;
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${height}`}
      className="w-full max-w-xl"
      role="img"
      aria-label={`Claims: ${claims
        .map((c) => `${c.low ?? "open"} to ${c.high ?? "open"}, ${c.source}`)
        .join("; ")}`}
    >
      <rect
        x={s0}
        y={0}
        width={Math.max(s1 - s0, 2)}
        height={height - 18}
        className="fill-fit/25"
      />
      {claims.map((claim, i) => {
        const [x0, x1] = span(claim.low, claim.high);
        const y = TOP + i * ROW + 4;
        const out = outliers.includes(i);
        return (
          <g key={`${claim.source}${claim.low}${claim.high}`}>
            <rect
              x={x0}
              y={y + 4}
              width={Math.max(x1 - x0, 3)}
              height={8}
              rx={4}
              className={out ? "fill-high" : "fill-ink"}
            />
            {claim.low !== null && claim.low !== undefined && (
              <text x={x0} y={y + 2} className="fill-soft text-[10px]">
                {limit(claim.low)}
              </text>
            )}
            {claim.high !== null && claim.high !== undefined && (
              <text x={x1} y={y + 2} textAnchor="end" className="fill-soft text-[10px]">
                {limit(claim.high)}
              </text>
            )}
          </g>
        );
      })}
      <g transform={`translate(0 ${height - 16})`}>
        <line x1={LEFT} x2={WIDTH - LEFT} y1={0} y2={0} className="stroke-edge" />
        <text x={LEFT} y={13} className="fill-soft text-[10px]">
          {limit(from)}
          {unit}
        </text>
        <text x={WIDTH - LEFT} y={13} textAnchor="end" className="fill-soft text-[10px]">
          {limit(to)}
          {unit}
        </text>
      </g>
    </svg>
  );
}
