import { useState } from "react";
import { type Dimension, fixed, readTyped, unitFormat } from "../domain/units/units";
import { MONTH_NAMES } from "../domain/year/year";
import { usePreferences } from "./preferences";

export interface MonthColumn<K extends string> {
  readonly key: K;
  readonly label: string;
  readonly dimension: Dimension;
  /** Core units. */
  readonly low: number;
  readonly high: number;
}

interface MonthTableProps<K extends string> {
  columns: readonly MonthColumn<K>[];
  /** Core units; months count from 0. */
  figureOf: (month: number, key: K) => number;
  onCommit: (month: number, key: K, value: number) => void;
}

/** Figures of twelve months, a row each. A value that is refused is named, and the old one stays. */
export function MonthTable<K extends string>(props: MonthTableProps<K>) {
  const { columns, figureOf, onCommit } = props;
  const { units } = usePreferences();
  const [wrong, setWrong] = useState<string | null>(null);
  return (
    <>
      <table className="w-full text-sm">
        <thead>
          <tr className="text-left text-soft">
            <th className="font-medium">Month</th>
            {columns.map((c) => (
              <th key={c.key} className="font-medium">
                {c.label}, {unitFormat(units, c.dimension).suffix}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {MONTH_NAMES.map((name, i) => (
            <tr key={name}>
              <th className="pr-2 text-left font-semibold">{name}</th>
              {columns.map((c) => {
                const format = unitFormat(units, c.dimension);
                const value = figureOf(i, c.key);
                const text = fixed(format.toShown(value), format.digits, true);
                return (
                  <td key={c.key} className="py-0.5 pr-2">
                    <input
                      key={text}
                      type="text"
                      inputMode="decimal"
                      aria-label={`${name} ${c.label}`}
                      defaultValue={text}
                      className="h-8 w-full min-w-0 rounded border border-edge bg-raised px-1.5 text-right"
                      onBlur={(e) => {
                        if (e.currentTarget.value === text) return;
                        const typed = readTyped(e.currentTarget.value, c.dimension, units);
                        if (typed === null || typed < c.low || typed > c.high) {
                          const [low, high] = [c.low, c.high].map((v) =>
                            fixed(format.toShown(v), 0),
                          );
                          setWrong(
                            `${name} ${c.label}: “${e.currentTarget.value}” is not between ${low} and ${high} ${format.suffix}.`,
                          );
                          e.currentTarget.value = text;
                        } else {
                          setWrong(null);
                          if (Math.abs(typed - value) > 1e-9) {
                            onCommit(i, c.key, Number(typed.toFixed(4)));
                          }
                        }
                      }}
                    />
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
      {wrong && (
        <p role="alert" className="mt-2 text-sm text-high">
          {wrong} The old value stays.
        </p>
      )}
    </>
  );
}
