/** Kinds of readings in words, and how they are written. */
import type { Expected, Instrument, ReadingKind } from "../../api/types";
import { type Dimension, fixed, type UnitSystem, unitFormat } from "../units/units";

export const KIND: Record<ReadingKind, string> = {
  surface: "Surface",
  air: "Probe reading",
  air_min: "Lowest probe reading of the night",
  air_max: "Highest probe reading of the day",
  uvi_facing: "UV index, facing the lamp",
  uvi_level: "UV index, held level",
  humidity: "Humidity",
  humidity_night: "Humidity late at night",
  room_air: "Air of the room",
  room_humidity: "Humidity of the room",
};
export const KINDS = Object.keys(KIND) as readonly ReadingKind[];

export const INSTRUMENT: Record<ReadingKind, Instrument["kind"]> = {
  surface: "infrared thermometer",
  air: "air probe",
  air_min: "air probe",
  air_max: "air probe",
  uvi_facing: "UV meter",
  uvi_level: "UV meter",
  humidity: "hygrometer",
  humidity_night: "hygrometer",
  room_air: "room thermometer",
  room_humidity: "hygrometer",
};

/** How it is taken well, where the question arises. */
export const HOW: Record<ReadingKind, string> = {
  surface: "Aim straight down from a hand's breadth; keep the beam clear of your hand.",
  air: "Shade the probe from the lamp with a card; wait until the display is steady.",
  air_min: "Lay the logger in overnight; read its lowest in the morning.",
  air_max: "Leave the logger in for the day, out of the beam; read its highest.",
  uvi_facing: "Turn the meter to the lamp, its sensor where the animal's back is. Never look in.",
  uvi_level: "Hold the meter level, facing straight up. Never look into the lamp.",
  humidity_night: "Lay a logger with a hygrometer in overnight; read its highest.",
  humidity: "Give the hygrometer a quarter of an hour, away from water and mist.",
  room_air: "A metre from the enclosure, out of the sun and not above a warm lid.",
  room_humidity: "A metre from the enclosure; give it a quarter of an hour.",
};

export const DIMENSION_OF: Record<ReadingKind, Dimension> = {
  surface: "temperature",
  air: "temperature",
  air_min: "temperature",
  air_max: "temperature",
  uvi_facing: "uvi",
  uvi_level: "uvi",
  humidity: "share",
  humidity_night: "share",
  room_air: "temperature",
  room_humidity: "share",
};

/** What an instrument can show at all; as the server has it. */
export const SHOWABLE: Record<Dimension & ("temperature" | "uvi" | "share"), [number, number]> = {
  temperature: [-20, 150],
  uvi: [0, 40],
  share: [0, 1],
};

export const needsPlace = (kind: ReadingKind): boolean =>
  kind !== "room_air" &&
  kind !== "room_humidity" &&
  kind !== "air_min" &&
  kind !== "humidity_night";

/** A value of a kind with its unit. */
export function valueText(value: number, kind: ReadingKind, units: UnitSystem): string {
  const format = unitFormat(units, DIMENSION_OF[kind]);
  const digits = DIMENSION_OF[kind] === "share" ? 0 : 1;
  const number = fixed(format.toShown(value), digits);
  return format.suffix === "UVI" ? number : `${number} ${format.suffix}`;
}

/** "33.1–40.2 °C". */
export function expectedText(expected: Expected, kind: ReadingKind, units: UnitSystem): string {
  const format = unitFormat(units, DIMENSION_OF[kind]);
  const digits = DIMENSION_OF[kind] === "share" ? 0 : 1;
  const low = fixed(format.toShown(expected.low), digits);
  return `${low}–${valueText(expected.high, kind, units)}`;
}

export type Side = "low" | "ok" | "high";

/** Where a reading lies against the middle 80 % of what was predicted. */
export function sideOf(value: number, expected: Expected): Side {
  if (value < expected.low) return "low";
  return value > expected.high ? "high" : "ok";
}

/** The present moment with the offset of the place the reading is taken at. */
export function momentNow(at = new Date()): string {
  const pad = (n: number) => String(Math.trunc(Math.abs(n))).padStart(2, "0");
  const off = -at.getTimezoneOffset();
  const local = new Date(at.getTime() + off * 60_000).toISOString().slice(0, 19);
  return `${local}${off < 0 ? "-" : "+"}${pad(off / 60)}:${pad(off % 60)}`;
}

/** An id for a reading, made where it is taken. */
export function freshId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(9));
  return `r${Array.from(bytes, (b) => b.toString(36).padStart(2, "0")).join("")}`;
}

/** The time zone of this device. */
export const HERE = Intl.DateTimeFormat().resolvedOptions().timeZone || "UTC";
