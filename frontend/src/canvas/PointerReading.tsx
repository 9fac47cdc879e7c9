import { fixed, unitFormat } from "../domain/units/units";
import { usePreferences } from "../ui/preferences";
import { type Field, type FieldName, readAt } from "./fields";
import type { Spot } from "./Movable";

interface PointerReadingProps {
  spot: Spot;
  fields: Record<FieldName, Field>;
  where: (x: number, z: number) => string;
  /** Whether the surface under the pointer is among the fields. */
  surface?: boolean;
}

/** All quantities under the pointer. */
export function PointerReading({ spot, fields, where, surface = false }: PointerReadingProps) {
  const { units } = usePreferences();
  const at = (name: FieldName) => readAt(fields[name], spot.x, spot.z);
  const [uvi, air, heat, light, humidity] = [
    at("uvi"),
    at("air"),
    at("irradiance"),
    at("light"),
    at("humidity"),
  ];
  if (uvi === null || air === null || heat === null || light === null || humidity === null) {
    return null;
  }
  const t = unitFormat(units, "temperature");
  const below = surface ? at("surface") : null;
  return (
    <span className="font-medium text-ink">
      {where(spot.x, spot.z)}: UVI {fixed(uvi, 1)} · air {fixed(t.toShown(air), 1)} {t.suffix} ·{" "}
      {fixed(heat, 0)} W/m² · {fixed(light, 0)} lx · humidity {fixed(100 * humidity, 0)} %
      {below !== null && ` · surface ${fixed(t.toShown(below), 1)} ${t.suffix}`}
    </span>
  );
}
