import { type ReactNode, useId } from "react";

interface CheckFieldProps {
  label: string;
  checked: boolean;
  onChange: (checked: boolean) => void;
  help?: ReactNode;
}

/** A yes or no. */
export function CheckField({ label, checked, onChange, help }: CheckFieldProps) {
  const id = useId();
  return (
    <div className="flex min-h-9 items-center gap-2 self-end">
      <input
        id={id}
        type="checkbox"
        checked={checked}
        onChange={(e) => onChange(e.target.checked)}
        className="size-5 accent-accent"
      />
      <label htmlFor={id} className="flex min-h-9 items-center font-medium pointer-coarse:min-h-11">
        {label}
      </label>
      {help}
    </div>
  );
}
