import { Slider } from "radix-ui";
import { type ReactNode, useEffect, useId, useState } from "react";
import { type Dimension, fixed, readTyped, show, unitFormat } from "../domain/units/units";
import { usePreferences } from "./preferences";

interface NumberFieldProps {
  label: string;
  /** Core units: metres, °C, watts. */
  value: number;
  dimension: Dimension;
  min: number;
  max: number;
  onCommit: (value: number) => void;
  /** While the slider moves; without it there is no slider. */
  onPreview?: (value: number) => void;
  help?: ReactNode;
  disabled?: boolean;
}

/**
 * A number with its unit. It takes either unit system ("12 in", "95 F"), steps with the arrow keys,
 * and says what is allowed when a value is refused.
 */
export function NumberField(props: NumberFieldProps) {
  const { label, value, dimension, min, max, onCommit, onPreview, help, disabled } = props;
  const { units } = usePreferences();
  const format = unitFormat(units, dimension);
  const shown = fixed(format.toShown(value), format.digits, true);
  const [text, setText] = useState(shown);
  const [error, setError] = useState<string | null>(null);
  const id = useId();
  useEffect(() => {
    setText(shown);
    setError(null);
  }, [shown]);

  const allowed = `${show(min, dimension, units)} to ${show(max, dimension, units)}`;
  const accept = (candidate: number | null) => {
    if (candidate === null) {
      setError(`Type a number, as in ${shown} ${format.suffix}.`);
    } else if (candidate < min - 1e-9 || candidate > max + 1e-9) {
      setError(`Allowed: ${allowed}.`);
    } else {
      setError(null);
      if (Math.abs(candidate - value) > 1e-9) onCommit(candidate);
      else setText(shown);
    }
  };
  const commit = () => text !== shown && accept(readTyped(text, dimension, units));
  const nudge = (steps: number) => {
    const moved = format.toCore(Number(fixed(format.toShown(value) + steps * format.step, 4)));
    accept(Math.min(max, Math.max(min, moved)));
  };

  return (
    <div className="min-w-0">
      <div className="flex items-center gap-1">
        <label htmlFor={id} className="text-sm text-soft">
          {label}
        </label>
        {help}
      </div>
      <div className="flex items-center gap-3">
        <div className="relative w-24 shrink-0">
          <input
            id={id}
            type="text"
            inputMode="decimal"
            autoComplete="off"
            disabled={disabled}
            value={text}
            aria-invalid={error !== null}
            data-unchanged={text === shown}
            aria-describedby={error ? `${id}-error` : undefined}
            onChange={(e) => setText(e.target.value)}
            onFocus={(e) => e.target.select()}
            onBlur={commit}
            onKeyDown={(e) => {
              if (e.key === "Enter") commit();
              else if (e.key === "Escape") {
                setText(shown);
                setError(null);
              } else if (e.key === "ArrowUp" || e.key === "ArrowDown") {
                e.preventDefault();
                nudge((e.key === "ArrowUp" ? 1 : -1) * (e.shiftKey ? 5 : 1));
              }
            }}
            className="h-9 w-full rounded-md border border-edge bg-raised pr-9 pl-2.5 font-medium aria-invalid:border-high disabled:opacity-60"
          />
          <span
            aria-hidden="true"
            className="pointer-events-none absolute inset-y-0 right-2.5 grid place-items-center text-sm text-soft"
          >
            {format.suffix}
          </span>
        </div>
        {onPreview && !disabled && (
          <Slider.Root
            value={[value]}
            min={min}
            max={max}
            step={(max - min) / 400}
            onValueChange={([v]) => v !== undefined && onPreview(snap(v, format))}
            onValueCommit={([v]) => v !== undefined && onCommit(snap(v, format))}
            className="relative flex h-8 min-w-0 flex-1 touch-none items-center"
          >
            <Slider.Track className="relative h-1.5 flex-1 rounded-full bg-line">
              <Slider.Range className="absolute h-full rounded-full bg-accent" />
            </Slider.Track>
            <Slider.Thumb
              aria-label={`${label}, slider`}
              aria-valuetext={`${shown} ${format.suffix}`}
              className="block size-6 rounded-full border-2 border-accent bg-raised shadow"
            />
          </Slider.Root>
        )}
      </div>
      {error && (
        <p id={`${id}-error`} role="alert" className="mt-1 text-sm text-high">
          {error}
        </p>
      )}
    </div>
  );

  function snap(v: number, f: typeof format): number {
    const moved = f.toCore(Math.round(f.toShown(v) / f.grain) * f.grain);
    return Math.min(max, Math.max(min, moved));
  }
}
