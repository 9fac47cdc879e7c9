import type { ReactNode } from "react";
import type { Fixture, PlanDocument } from "../../api/types";
import { NumberFields, type NumberRow } from "../../ui/NumberFields";

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
  const common = { dimension: "length", live: true } as const;
  const rows: readonly NumberRow<Position>[] = [
    {
      ...common,
      key: "z_m",
      label: names.z,
      min: lowest,
      max: highest,
      help,
      summary: (shown) => `${shown} above the floor`,
    },
    {
      ...common,
      key: "x_m",
      label: names.x,
      min: 0,
      max: d.enclosure.length_m,
      summary: (shown) => `${shown} from the left`,
    },
    {
      ...common,
      key: "y_m",
      label: names.y,
      min: 0,
      max: d.enclosure.depth_m,
      summary: (shown) => `${shown} from the front`,
    },
  ];
  return <NumberFields rows={rows} of={at} onPreview={onPreview} onCommit={onCommit} />;
}
