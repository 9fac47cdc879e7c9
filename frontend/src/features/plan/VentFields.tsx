import { CircleDashed } from "lucide-react";
import type { PlanDocument } from "../../api/types";
import { ventsOf } from "../../domain/plan/vents";
import { show } from "../../domain/units/units";
import { Button } from "../../ui/Button";
import { Help } from "../../ui/Help";
import { NumberField } from "../../ui/NumberField";
import { usePreferences } from "../../ui/preferences";
import type { FormProps } from "./forms";
import { PartFieldset } from "./PartFieldset";

type Vent = ReturnType<typeof ventsOf>[number];
type Face = Vent["side"];

const MOST_VENTS = 20;
const USUAL: Pick<Vent, "area_m2" | "holes"> = { area_m2: 0.004, holes: 1 };

const diameterOf = (v: Vent) => 2 * Math.sqrt(v.area_m2 / (v.holes ?? 1) / Math.PI);
const areaOf = (diameter: number, holes: number) => (holes * Math.PI * diameter ** 2) / 4;

interface VentFieldsProps extends FormProps {
  face: Face;
  /** As in "Vent 1 of the lid". */
  name: string;
}

/** Vents and drilled holes of the lid or of a side, by their number and size. */
export function VentFields({ document: d, edits, face, name }: VentFieldsProps) {
  const { units } = usePreferences();
  const all = ventsOf(d);
  const mine = all.flatMap((vent, at) => (vent.side === face ? [{ vent, at }] : []));
  const { length_m, depth_m, height_m } = d.enclosure;
  const put = (vents: Vent[], summary: string) =>
    edits.commit({ ...d, enclosure: { ...d.enclosure, vents } } as PlanDocument, summary);
  const sideways = face === "left" || face === "right";
  const place = sideways
    ? ([] as const)
    : ([{ key: "x_m", label: "From the left", most: length_m }] as const);
  const places = [
    ...place,
    face === "top"
      ? ({ key: "y_m", label: "From the front", most: depth_m } as const)
      : ({ key: "z_m", label: "Above the floor", most: height_m } as const),
  ];
  return (
    <div>
      {mine.map(({ vent, at }, i) => {
        const title = `Vent ${i + 1}`;
        const holes = vent.holes ?? 1;
        const change = (to: Partial<Vent>, summary: string) =>
          put(
            all.map((old, k) => (k === at ? { ...old, ...to } : old)),
            `${title} of the ${name}: ${summary}`,
          );
        return (
          <PartFieldset
            key={at}
            title={title}
            testId="vent"
            onRemove={() =>
              put(
                all.filter((_, k) => k !== at),
                `${title} of the ${name} removed`,
              )
            }
          >
            <NumberField
              label="Holes"
              dimension="count"
              value={holes}
              min={1}
              max={1000}
              onCommit={(n) => {
                const next = Math.round(n);
                change({ holes: next, area_m2: areaOf(diameterOf(vent), next) }, `${next} holes`);
              }}
            />
            <NumberField
              label={holes > 1 ? "Width of each" : "Width"}
              dimension="length"
              value={diameterOf(vent)}
              min={0.001}
              max={Math.min(1, Math.sqrt(4 / Math.PI / holes))}
              onCommit={(m) =>
                change({ area_m2: areaOf(m, holes) }, `${show(m, "length", units)} wide`)
              }
              help={
                <Help about="the width of a vent">
                  Of a round hole. A slot or a grille counts as a round hole with the same free
                  area: 10 × 4 cm open all over is as wide as 7.1 cm. Small holes pass less air than
                  one large opening of the same area.
                </Help>
              }
            />
            {places.map(({ key, label, most }) => (
              <NumberField
                key={key}
                label={label}
                dimension="length"
                value={vent[key] ?? 0}
                min={0}
                max={most}
                onCommit={(m) => change({ [key]: m }, "moved")}
              />
            ))}
          </PartFieldset>
        );
      })}
      {all.length < MOST_VENTS && (
        <Button
          size="small"
          className="mt-2"
          onClick={() =>
            put(
              [
                ...all,
                {
                  ...USUAL,
                  side: face,
                  x_m: face === "left" ? 0 : face === "right" ? length_m : length_m / 2,
                  y_m: face === "top" ? depth_m / 2 : 0,
                  z_m: face === "top" ? height_m : height_m * 0.8,
                },
              ],
              `Vent in the ${name} added`,
            )
          }
        >
          <CircleDashed size={15} aria-hidden />A vent or holes in it
        </Button>
      )}
    </div>
  );
}
