import type { ReactNode } from "react";
import type { Fixture, PlanDocument } from "../../api/types";
import { show } from "../../domain/units/units";
import { NumberField } from "../../ui/NumberField";
import { usePreferences } from "../../ui/preferences";

type Position = Fixture["position_m"];

interface PositionFieldsProps {
  document: PlanDocument;
  at: Position;
  names: { z: string; x: string; y: string };
  lowest: number;
  highest: number;
  help?: ReactNode;
  onPreview: (part: Partial<Position>) => void;
  onCommit: (part: Partial<Position>, where: string) => void;
}

/** The three coordinates of a lamp or probe. */
export function PositionFields(props: PositionFieldsProps) {
  const { document: d, at, names, lowest, highest, help, onPreview, onCommit } = props;
  const { units } = usePreferences();
  const length = (m: number) => show(m, "length", units);
  return (
    <>
      <NumberField
        label={names.z}
        dimension="length"
        value={at.z_m}
        min={lowest}
        max={highest}
        help={help}
        onPreview={(z) => onPreview({ z_m: z })}
        onCommit={(z) => onCommit({ z_m: z }, `${length(z)} above the floor`)}
      />
      <NumberField
        label={names.x}
        dimension="length"
        value={at.x_m}
        min={0}
        max={d.enclosure.length_m}
        onPreview={(x) => onPreview({ x_m: x })}
        onCommit={(x) => onCommit({ x_m: x }, `${length(x)} from the left`)}
      />
      <NumberField
        label={names.y}
        dimension="length"
        value={at.y_m}
        min={0}
        max={d.enclosure.depth_m}
        onPreview={(y) => onPreview({ y_m: y })}
        onCommit={(y) => onCommit({ y_m: y }, `${length(y)} from the front`)}
      />
    </>
  );
}
