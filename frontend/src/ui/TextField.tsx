import { useId } from "react";

interface TextFieldProps {
  label: string;
  value: string;
  most: number;
  onCommit: (text: string) => void;
}

/** A line of text, taken when it is left; an empty one is put back. */
export function TextField({ label, value, most, onCommit }: TextFieldProps) {
  const id = useId();
  return (
    <div className="min-w-0">
      <label htmlFor={id} className="text-sm text-soft">
        {label}
      </label>
      <input
        id={id}
        key={value}
        type="text"
        defaultValue={value}
        maxLength={most}
        onBlur={(e) => {
          const text = e.target.value.trim();
          if (!text) e.target.value = value;
          else if (text !== value) onCommit(text);
        }}
        onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
        className="h-9 w-full rounded-md border border-edge bg-raised px-2"
      />
    </div>
  );
}
