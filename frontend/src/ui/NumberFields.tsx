/** Number fields described by a table: one row for each figure of an object. */
import type { ReactNode } from "react";
import { type Dimension, show } from "../domain/units/units";
import { NumberField } from "./NumberField";
import { usePreferences } from "./preferences";

export interface NumberRow<T> {
  readonly key: keyof T & string;
  readonly label: string;
  readonly dimension: Dimension;
  readonly min: number;
  readonly max: number;
  /** Shown where the object has none. */
  readonly usual?: number;
  readonly whole?: boolean;
  readonly help?: ReactNode;
  readonly disabled?: boolean;
  /** Previewed while its slider moves; without it there is no slider. */
  readonly live?: boolean;
  /** The history's words for a change, from the value in the keeper's units; without it, the label. */
  readonly summary?: (shown: string) => string;
}

interface NumberFieldsProps<T> {
  rows: readonly NumberRow<T>[];
  of: T;
  onPreview?: (part: Partial<T>) => void;
  onCommit: (part: Partial<T>, summary: string) => void;
}

export function NumberFields<T extends object>(props: NumberFieldsProps<T>) {
  const { rows, of, onPreview, onCommit } = props;
  const { units } = usePreferences();
  return rows.map((row) => {
    const { key, label, dimension, min, max, help, disabled, live, whole, usual, summary } = row;
    const part = (value: number) => ({ [key]: whole ? Math.round(value) : value }) as Partial<T>;
    const words = (value: number) => summary?.(show(value, dimension, units)) ?? label;
    return (
      <NumberField
        key={key}
        label={label}
        dimension={dimension}
        value={Number(of[key] ?? usual ?? 0)}
        min={min}
        max={max}
        help={help}
        disabled={disabled}
        onPreview={live && onPreview ? (value) => onPreview(part(value)) : undefined}
        onCommit={(value) => onCommit(part(value), words(value))}
      />
    );
  });
}
