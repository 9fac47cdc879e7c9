import type { FieldName } from "../../canvas/fields";
import { Choice } from "../../ui/Choice";
import { usePreferences } from "../../ui/preferences";
import { type Opened, pictureOf } from "./comparisonSource";

export type Seen = { field: FieldName; view: "front" | "above" };

const FIELDS = [
  { value: "uvi", label: "UV" },
  { value: "air", label: "Temperature" },
  { value: "irradiance", label: "Radiant heat" },
  { value: "light", label: "Light" },
] as const;
const VIEWS = [
  { value: "front", label: "Front" },
  { value: "above", label: "Above" },
] as const;

/** What is seen in the pictures below. */
export function SeenChoice({ seen, onSeen }: { seen: Seen; onSeen: (seen: Seen) => void }) {
  return (
    <div className="flex flex-wrap gap-2">
      <Choice
        label="Field shown"
        value={seen.field}
        onChange={(field) => onSeen({ ...seen, field })}
        options={FIELDS}
      />
      <Choice
        label="Seen from"
        value={seen.view}
        onChange={(view) => onSeen({ ...seen, view })}
        options={VIEWS}
      />
    </div>
  );
}

/** The drawing of a revision, on paper. */
export function Picture({ side, seen }: { side: Opened; seen: Seen }) {
  const { units } = usePreferences();
  const what = FIELDS.find((f) => f.value === seen.field)?.label ?? "";
  return (
    <img
      src={pictureOf(side, seen.field, seen.view, units)}
      alt={`${side.document.name}, revision ${side.revision}, from ${seen.view === "front" ? "the front" : "above"}: ${what}`}
      className="w-full rounded-lg border border-line bg-white"
      width={760}
      height={480}
    />
  );
}
