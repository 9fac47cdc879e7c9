/** The simulated day as it came from the server, unpacked and read at an hour. */
import type { Day, DayPlace, Evaluation, Moment } from "../../../api/types";
import { unpacked } from "../../../canvas/fields";

export interface Series {
  readonly values: Float32Array;
  /** Hours between samples; the first stands for the end of the first step. */
  readonly step: number;
}

export interface PlaceSeries {
  readonly id: string;
  readonly label: string;
  readonly kind: DayPlace["kind"];
  readonly air: Series;
  /** What a shaded probe reads: needs of the air are compared with it. */
  readonly probe: Series;
  readonly surface: Series | null;
  readonly uvi: Series;
  readonly humidity: Series;
}

export interface DaySeries {
  readonly day: Day;
  readonly room: Series;
  readonly places: readonly PlaceSeries[];
  /** Watts of all lamps and heaters together. */
  readonly power: Series;
}

export function unpackedDay(day: Day, watts: (id: string) => number): DaySeries {
  const step = day.sample_min / 60;
  const made = (layer: DayPlace["air_c"]): Series => ({ values: unpacked(layer), step });
  const power = new Float32Array(day.samples);
  for (const fixture of day.fixtures) {
    const share = unpacked(fixture.power);
    for (let i = 0; i < power.length; i++) {
      power[i] = (power[i] ?? 0) + (share[i] ?? 0) * watts(fixture.id);
    }
  }
  return {
    day,
    room: made(day.room_c),
    places: day.places.map((p) => ({
      id: p.id,
      label: p.label,
      kind: p.kind,
      air: made(p.air_c),
      probe: made(p.probe_c),
      surface: p.surface_c ? made(p.surface_c) : null,
      uvi: made(p.uvi),
      humidity: made(p.relative_humidity),
    })),
    power: { values: power, step },
  };
}

/** Value at an hour, between samples linearly; the day repeats. */
export function valueAt(series: Series, hour: number): number {
  const n = series.values.length;
  const at = (((hour / series.step - 1) % n) + n) % n;
  const i = Math.floor(at);
  const t = at - i;
  return (series.values[i % n] ?? 0) * (1 - t) + (series.values[(i + 1) % n] ?? 0) * t;
}

/** The evaluation as the enclosure is at an hour: its fields, and what the places then come to. */
export function evaluationAt(
  evaluation: Evaluation,
  series: DaySeries,
  moment: Moment | null,
  hour: number,
): Evaluation {
  return {
    ...evaluation,
    room_c: valueAt(series.room, hour),
    // Needs are assessed once everything is warm; at other hours the figures stand without a check.
    checks: [],
    thermostats: [],
    heights: [],
    places: evaluation.places.map((place) => {
      const over = series.places.find((p) => p.id === place.id);
      if (!over) return place;
      return {
        ...place,
        air_c: valueAt(over.air, hour),
        probe_c: valueAt(over.probe, hour),
        surface_c: over.surface ? valueAt(over.surface, hour) : null,
        uvi_facing: valueAt(over.uvi, hour),
        uvi_level: valueAt(over.uvi, hour),
        relative_humidity: valueAt(over.humidity, hour),
      };
    }),
    section: moment ? moment.section : evaluation.section,
    plan_view: moment ? moment.plan_view : evaluation.plan_view,
  };
}

/** 13.5 as 13:30. */
export function clock(hour: number): string {
  const minutes = Math.round((((hour % 24) + 24) % 24) * 60);
  const h = Math.floor(minutes / 60) % 24;
  return `${String(h).padStart(2, "0")}:${String(minutes % 60).padStart(2, "0")}`;
}

/** Minutes in words: 95 as 1 h 35 min. */
export function duration(minutes: number): string {
  const m = Math.round(minutes);
  if (m < 60) return `${m} min`;
  return m % 60 === 0 ? `${m / 60} h` : `${Math.floor(m / 60)} h ${m % 60} min`;
}
