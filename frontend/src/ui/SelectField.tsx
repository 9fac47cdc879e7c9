import { type ReactNode, useId } from "react";

interface SelectFieldProps {
  label: string;
  value: string;
  onChange: (value: string) => void;
  options: readonly { value: string; label: string; group?: string }[];
  help?: ReactNode;
}

/** A list to choose from; the browser's own, which phones show full screen. */
export function SelectField({ label, value, onChange, options, help }: SelectFieldProps) {
  const id = useId();
  const groups = [...new Set(options.map((o) => o.group))];
  return (
    <div className="min-w-0">
      <div className="flex items-center gap-1">
        <label htmlFor={id} className="text-sm text-soft">
          {label}
        </label>
        {help}
      </div>
      <select
        id={id}
        value={value}
        onChange={(e) => onChange(e.target.value)}
        className="h-9 w-full rounded-md border border-edge bg-raised px-2 font-medium"
      >
        {groups.map((group) => {
          const mine = options
            .filter((o) => o.group === group)
            .map((o) => (
              <option key={o.value} value={o.value}>
                {o.label}
              </option>
            ));
          return group ? (
            <optgroup key={group} label={group}>
              {mine}
            </optgroup>
          ) : (
            mine
          );
        })}
      </select>
    </div>
  );
}
