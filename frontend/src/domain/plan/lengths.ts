/** Lengths in metres as hands place things: within limits, on half centimetres, without binary dust. */

const GRID_M = 0.005;

export const clamp = (m: number, low: number, high: number) => Math.min(high, Math.max(low, m));
export const onGrid = (m: number) => Math.round(m / GRID_M) * GRID_M;
export const tidy = (m: number) => Number(m.toFixed(4));
