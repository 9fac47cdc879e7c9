import { ToggleGroup } from "radix-ui";
import { memo } from "react";

interface ChoiceProps<T extends string> {
  label: string;
  value: T;
  onChange: (value: T) => void;
  options: readonly { value: T; label: string }[];
}

/** One of a few, all visible. */
export const Choice = memo(OneOfFew) as typeof OneOfFew;

function OneOfFew<T extends string>({ label, value, onChange, options }: ChoiceProps<T>) {
  return (
    <ToggleGroup.Root
      type="single"
      aria-label={label}
      value={value}
      onValueChange={(next) => next && onChange(next as T)}
      className="inline-flex max-w-full flex-wrap rounded-md border border-edge bg-raised p-0.5"
    >
      {options.map((o) => (
        <ToggleGroup.Item
          key={o.value}
          value={o.value}
          className="min-h-8 rounded px-2.5 text-sm whitespace-nowrap hover:bg-wash data-[state=on]:bg-accent data-[state=on]:text-accent-ink"
        >
          {o.label}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}
