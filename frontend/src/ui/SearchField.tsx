import { Search } from "lucide-react";
import { useId } from "react";

interface SearchFieldProps {
  label: string;
  /** The label is for screen readers only. */
  hidden?: boolean;
  placeholder: string;
  value: string;
  onChange: (text: string) => void;
}

/** A field to find things by words. */
export function SearchField({ label, hidden, placeholder, value, onChange }: SearchFieldProps) {
  const id = useId();
  return (
    <div className="min-w-0">
      <label htmlFor={id} className={hidden ? "sr-only" : "text-sm text-soft"}>
        {label}
      </label>
      <div className="relative">
        <Search
          size={16}
          aria-hidden
          className="pointer-events-none absolute inset-y-0 left-2.5 my-auto text-soft"
        />
        <input
          id={id}
          type="search"
          autoComplete="off"
          value={value}
          placeholder={placeholder}
          onChange={(e) => onChange(e.target.value)}
          className="h-9 w-full rounded-md border border-edge bg-raised pr-2 pl-8"
        />
      </div>
    </div>
  );
}

/** Whether a text has all the words of a search, in any order. */
export function hasWords(text: string, wanted: string): boolean {
  const found = text.toLowerCase();
  return wanted
    .toLowerCase()
    .split(/\s+/)
    .every((word) => found.includes(word));
}
