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
  /** How far outside each side it may stand, m. */
  room?: { left: number; right: number; front: number; back: number };
  help?: ReactNode;
  onPreview: (part: Partial<Position>) => void;
  onCommit: (part: Partial<Position>, where: string) => void;
}

/** The three coordinates of a lamp or probe. */
export function PositionFields(props: PositionFieldsProps) {
  const { document: d, at, names, lowest, highest, help, onPreview, onCommit } = props;
  const room = props.room ?? { left: 0, right: 0, front: 0, back: 0 };
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
      min: -room.left,
      max: d.enclosure.length_m + room.right,
      summary: (shown) => `${shown} from the left`,
    },
    {
      ...common,
      key: "y_m",
      label: names.y,
      min: -room.front,
      max: d.enclosure.depth_m + room.back,
      summary: (shown) => `${shown} from the front`,
    },
  ];
  return <NumberFields rows={rows} of={at} onPreview={onPreview} onCommit={onCommit} />;
}
