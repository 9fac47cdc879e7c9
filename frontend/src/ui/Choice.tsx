import { ToggleGroup } from "radix-ui";
import { memo } from "react";

interface ChoiceProps<T extends string> {
  label: string;
  value: T;
  onChange: (value: T) => void;
  options: readonly { value: T; label: string }[];
  /** One above the other, small. */
  narrow?: boolean;
  /** Little room around the words. */
  snug?: boolean;
}

/** One of a few, all visible. */
export const Choice = memo(OneOfFew) as typeof OneOfFew;

function OneOfFew<T extends string>(props: ChoiceProps<T>) {
  const { label, value, onChange, options, narrow = false, snug = false } = props;
  const room = narrow ? "px-1.5 text-xs" : snug ? "px-2 text-sm max-sm:px-1" : "px-2.5 text-sm";
  return (
    <ToggleGroup.Root
      type="single"
      aria-label={label}
      value={value}
      onValueChange={(next) => next && onChange(next as T)}
      className={`inline-flex max-w-full rounded-md border border-edge bg-raised p-0.5 ${narrow ? "flex-col" : "flex-wrap"}`}
    >
      {options.map((o) => (
        <ToggleGroup.Item
          key={o.value}
          value={o.value}
          className={`min-h-8 rounded whitespace-nowrap hover:bg-wash data-[state=on]:bg-accent data-[state=on]:text-accent-ink ${room}`}
        >
          {o.label}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}
