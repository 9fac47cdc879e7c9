import { Plus, Trash2, X } from "lucide-react";
import type { Claim } from "../../api/types";
import { DIMENSION, type Quantity } from "../../domain/units/needs";
import { Button } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";
import { SelectField } from "../../ui/SelectField";
import { TextField } from "../../ui/TextField";
import { ABOUTS, type About, aboutKey, aboutLabel } from "./drafts";

const GRADES: readonly Claim["grade"][] = [
  "published measurement",
  "published guidance",
  "keepers' consensus",
  "estimate",
];
const LIMITS: Record<Quantity, readonly [number, number]> = {
  surface_temperature: [0, 70],
  air_temperature: [-5, 50],
  water_temperature: [0, 40],
  gradient: [0, 30],
  uvi: [0, 12],
  humidity: [0, 1],
  uv_free_share: [0, 1],
};
const MOST_CLAIMS = 12;

interface ClaimEditorProps {
  about: About;
  claims: readonly Claim[];
  onChange: (claims: Claim[]) => void;
  /** A claim turns out to be about something else. */
  onMove: (number: number, to: About) => void;
}

/** Claims of several sources, in either unit; each says what it is about and what it rests on. */
export function ClaimEditor({ about, claims, onChange, onMove }: ClaimEditorProps) {
  const { quantity } = about;
  const [least, most] = LIMITS[quantity];
  const name = aboutLabel(about);
  const put = (i: number, change: Partial<Claim>) =>
    onChange(claims.map((c, k) => (k === i ? { ...c, ...change } : c)));
  return (
    <div className="mt-1">
      {claims.map((claim, i) => (
        <fieldset key={i} className="mt-2 rounded-md border border-line p-2">
          <legend className="px-1 text-sm font-semibold">
            {name}: source {i + 1}
          </legend>
          <div className="grid gap-x-4 gap-y-2 sm:grid-cols-2">
            <div className="flex flex-wrap items-end gap-3">
              <Limit
                label="Lower limit"
                quantity={quantity}
                value={claim.low ?? null}
                usual={claim.high ?? least}
                needed={(claim.high ?? null) === null}
                onChange={(low) => put(i, { low })}
              />
              <Limit
                label="Upper limit"
                quantity={quantity}
                value={claim.high ?? null}
                usual={claim.low ?? most}
                needed={(claim.low ?? null) === null}
                onChange={(high) => put(i, { high })}
              />
            </div>
            <TextField
              label="Source"
              value={claim.source}
              most={500}
              onCommit={(source) => put(i, { source })}
            />
            <TextField
              label="In detail, such as stage or place"
              value={claim.about ?? ""}
              most={200}
              onCommit={(words) => put(i, { about: words })}
            />
            <SelectField
              label="Grade"
              value={claim.grade}
              options={GRADES.map((g) => ({ value: g, label: g }))}
              onChange={(grade) => put(i, { grade: grade as Claim["grade"] })}
            />
            <div className="flex items-end gap-2">
              <div className="min-w-0 flex-1">
                <SelectField
                  label="It is about"
                  value={aboutKey(about)}
                  options={ABOUTS.filter((a) => DIMENSION[a.quantity] === DIMENSION[quantity]).map(
                    (a) => ({ value: aboutKey(a), label: aboutLabel(a) }),
                  )}
                  onChange={(key) => {
                    const to = ABOUTS.find((a) => aboutKey(a) === key);
                    if (to) onMove(i, to);
                  }}
                />
              </div>
              {claims.length > 1 && (
                <Button
                  size="small"
                  aria-label={`Remove source ${i + 1} of ${name}`}
                  onClick={() => onChange(claims.filter((_, k) => k !== i))}
                >
                  <Trash2 size={15} aria-hidden />
                </Button>
              )}
            </div>
          </div>
        </fieldset>
      ))}
      {claims.length < MOST_CLAIMS && (
        <Button
          size="small"
          className="mt-2"
          onClick={() => {
            const like = claims[claims.length - 1];
            onChange([
              ...claims,
              {
                low: like?.low ?? null,
                high: like?.high ?? null,
                grade: "keepers' consensus",
                source: "another source",
                about: "",
              },
            ]);
          }}
        >
          <Plus size={15} aria-hidden />
          Add a source
          <span className="sr-only"> for {name}</span>
        </Button>
      )}
    </div>
  );
}

interface LimitProps {
  label: string;
  quantity: Quantity;
  value: number | null;
  /** What an open side starts from when it gets a limit. */
  usual: number;
  /** Whether it is the only limit, so that it cannot be left open. */
  needed: boolean;
  onChange: (value: number | null) => void;
}

/** One side of a range, which may be left open. */
function Limit({ label, quantity, value, usual, needed, onChange }: LimitProps) {
  const [least, most] = LIMITS[quantity];
  if (value === null) {
    return (
      <Button size="small" onClick={() => onChange(usual)}>
        <Plus size={15} aria-hidden />
        {label}
      </Button>
    );
  }
  return (
    <div className="flex items-end gap-1">
      <NumberField
        label={label}
        dimension={DIMENSION[quantity]}
        value={value}
        min={least}
        max={most}
        onCommit={onChange}
      />
      {!needed && (
        <button
          type="button"
          aria-label={`Leave the ${label.toLowerCase()} open`}
          className="grid size-9 place-items-center rounded text-soft hover:bg-wash"
          onClick={() => onChange(null)}
        >
          <X size={14} aria-hidden />
        </button>
      )}
    </div>
  );
}
