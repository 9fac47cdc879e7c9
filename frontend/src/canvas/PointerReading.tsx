import { fixed, show, unitFormat } from "../domain/units/units";
import { usePreferences } from "../ui/preferences";
import { type Field, type FieldName, type InGround, readAt } from "./fields";
import type { Spot } from "./Movable";

interface PointerReadingProps {
  spot: Spot;
  fields: Record<FieldName, Field>;
  where: (x: number, z: number) => string;
  inGround?: ((x: number, z: number) => InGround | null) | undefined;
  /** Whether the surface under the pointer is among the fields. */
  surface?: boolean;
}

/** All quantities under the pointer. */
export function PointerReading({
  spot,
  fields,
  where,
  inGround,
  surface = false,
}: PointerReadingProps) {
  const { units } = usePreferences();
  const t = unitFormat(units, "temperature");
  const ground = inGround?.(spot.x, spot.z);
  if (ground) {
    return (
      <span className="font-medium text-ink">
        {show(spot.x, "length", units)} from the left, {show(ground.depth, "length", units)} deep in
        the ground: {fixed(t.toShown(ground.celsius), 1)} {t.suffix}
      </span>
    );
  }
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
  const below = surface ? at("surface") : null;
  return (
    <span className="font-medium text-ink">
      {where(spot.x, spot.z)}: UVI {fixed(uvi, 1)} · air {fixed(t.toShown(air), 1)} {t.suffix} ·{" "}
      {fixed(heat, 0)} W/m² · {fixed(light, 0)} lx · humidity {fixed(100 * humidity, 0)} %
      {below !== null && ` · surface ${fixed(t.toShown(below), 1)} ${t.suffix}`}
    </span>
  );
}
