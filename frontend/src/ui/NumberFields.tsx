/** Number fields described by a table: one row for each figure of an object. */
import type { ReactNode } from "react";
import type { Dimension } from "../domain/units/units";
import { NumberField } from "./NumberField";

export interface NumberRow<T> {
  readonly key: keyof T & string;
  readonly label: string;
  readonly dimension: Dimension;
  readonly min: number;
  readonly max: number;
  /** Taken where the object has none. */
  readonly usual?: number;
  readonly whole?: boolean;
  readonly help?: ReactNode;
}

interface NumberFieldsProps<T> {
  rows: readonly NumberRow<T>[];
  of: T;
  onCommit: (part: Partial<T>, row: NumberRow<T>) => void;
}

export function NumberFields<T extends object>({ rows, of, onCommit }: NumberFieldsProps<T>) {
  return rows.map((row) => (
    <NumberField
      key={row.key}
      label={row.label}
      dimension={row.dimension}
      value={Number(of[row.key] ?? row.usual ?? 0)}
      min={row.min}
      max={row.max}
      help={row.help}
      onCommit={(value) =>
        onCommit({ [row.key]: row.whole ? Math.round(value) : value } as Partial<T>, row)
      }
    />
  ));
}
