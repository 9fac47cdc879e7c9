/** Lamps to start from when adding one. */
import type { LampDocument } from "../../api/types";

const freshId = () => `own-${crypto.randomUUID().slice(0, 8)}`;

export function copyOf(document: LampDocument): LampDocument {
  return {
    ...document,
    id: freshId(),
    label: `${document.label}, mine`.slice(0, 80),
    source: `copied from ${document.label}`,
  };
}

export function blankLamp(): LampDocument {
  return {
    format: "noonshade-lamp",
    version: 1,
    id: freshId(),
    label: "My tube",
    kind: "tube",
    gives_light: true,
    geometry: { shape: "line", length_m: 0.55, reflector_exponent: 1, width_m: 0.06 },
    power_w: 24,
    power_min_w: 24,
    power_max_w: 24,
    power_choices_w: [24],
    forward_radiant: 0.42,
    other_radiant: 0.13,
    conducted: 0,
    lumens_per_radiant_watt: 95,
    lux_per_ppfd: null,
    uv: { uvi: 4, distance_m: 0.3 },
    ageing: { remaining: 0.55, time_constant_h: 5000, burn_in: 0.15, life_h: 4500 },
    spread: { uv: 0.25, radiant: 0.1, beam: 0.15 },
    controls: [],
    below_290_share: 0,
    source: "your own entry",
    sources: {},
    readings: [],
  };
}

/** Typical numbers of a kind, put in when the kind is changed. */
export function asKind(d: LampDocument, kind: LampDocument["kind"]): LampDocument {
  const blank = blankLamp();
  const uv = d.uv ?? blank.uv ?? null;
  const ageing = d.ageing ?? blank.ageing ?? null;
  const beam = (fwhm_deg: number, diameter_m: number): LampDocument["geometry"] => ({
    shape: "beam",
    fwhm_deg,
    diameter_m,
  });
  const common = { ...d, kind, conducted: 0 };
  switch (kind) {
    case "tube":
      return { ...common, geometry: blank.geometry, gives_light: true, controls: [], uv, ageing };
    case "compact":
      return { ...common, geometry: beam(120, 0.06), gives_light: true, controls: [], uv, ageing };
    case "mercury vapour":
    case "metal halide":
      return { ...common, geometry: beam(60, 0.12), gives_light: true, controls: [], uv, ageing };
    case "led":
      return { ...common, gives_light: true, controls: [] };
    case "bulb":
      return {
        ...common,
        geometry: beam(40, 0.095),
        gives_light: true,
        controls: ["on_off", "dimming"],
        forward_radiant: 0.75,
        other_radiant: 0.08,
        lumens_per_radiant_watt: 16,
        uv: null,
        ageing: null,
      };
    case "mat":
      return {
        ...common,
        geometry: { shape: "panel", length_m: 0.28, width_m: 0.28 },
        gives_light: false,
        controls: ["on_off", "pulse"],
        forward_radiant: 0,
        other_radiant: 0,
        conducted: 1,
        lumens_per_radiant_watt: 0,
        uv: null,
        ageing: null,
      };
    case "heater":
      return {
        ...common,
        geometry: beam(120, 0.075),
        gives_light: false,
        controls: ["on_off", "pulse"],
        forward_radiant: 0.4,
        other_radiant: 0.15,
        lumens_per_radiant_watt: 0,
        uv: null,
        ageing: null,
      };
  }
}
