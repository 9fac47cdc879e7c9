/** Plain fields of dialogs: they change at once, and the dialog is saved as one. */
import type { ReactNode } from "react";

const INPUT = "block h-9 rounded-md border border-edge bg-raised px-2 text-ink";

interface DayFieldProps {
  label: ReactNode;
  /** As 2026-03-14; null or empty: none. */
  value: string | null | undefined;
  onChange: (day: string | null) => void;
  /** One there must be; then none is never reported. */
  required?: boolean;
}

/** A day of the calendar. */
export function DayField({ label, value, onChange, required = false }: DayFieldProps) {
  return (
    <label className="text-sm text-soft">
      {label}
      <input
        type="date"
        required={required}
        value={value ?? ""}
        onChange={(e) => {
          if (e.target.value || !required) onChange(e.target.value || null);
        }}
        className={INPUT}
      />
    </label>
  );
}

interface LineFieldProps {
  label: ReactNode;
  value: string | undefined;
  most: number;
  onChange: (text: string) => void;
  required?: boolean;
  placeholder?: string;
}

/** A line of text. */
export function LineField({ label, value, most, onChange, required, placeholder }: LineFieldProps) {
  return (
    <label className="block min-w-40 flex-1 text-sm text-soft">
      {label}
      <input
        type="text"
        required={required}
        maxLength={most}
        placeholder={placeholder}
        value={value ?? ""}
        onChange={(e) => onChange(e.target.value)}
        className={`${INPUT} w-full`}
      />
    </label>
  );
}

interface NoteFieldProps {
  label: ReactNode;
  value: string | undefined;
  most: number;
  rows: number;
  onChange: (text: string) => void;
}

/** Some lines of text. */
export function NoteField({ label, value, most, rows, onChange }: NoteFieldProps) {
  return (
    <label className="block text-sm text-soft">
      {label}
      <textarea
        rows={rows}
        maxLength={most}
        value={value ?? ""}
        onChange={(e) => onChange(e.target.value)}
        className="block w-full rounded-md border border-edge bg-raised px-2 py-1.5 text-base text-ink"
      />
    </label>
  );
}
