import { Plus, Trash2 } from "lucide-react";
import type { Member, PlanDocument, Species } from "../../api/types";
import { Button } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";
import { SelectField } from "../../ui/SelectField";
import { TextField } from "../../ui/TextField";

type Animal = PlanDocument["animal"];

const MOST = 50;
const SEXES = [
  { value: "unknown", label: "not known" },
  { value: "male", label: "male" },
  { value: "female", label: "female" },
] as const;

const RULE: Record<NonNullable<Species["company"]>["rule"], string> = {
  alone: "Lives alone",
  pairs: "Lives alone or as a pair",
  "one male": "One male with females, or females alone",
  females: "Females together, no males",
  groups: "Groups get on",
};

interface MemberListProps {
  animal: Animal;
  company: Species["company"];
  onChange: (change: Partial<Animal>, summary: string) => void;
}

/** The animals that share an enclosure, with sex and size: that decides who may live together. */
export function MemberList({ animal, company, onChange }: MemberListProps) {
  const members = animal.members ?? [];
  const put = (i: number, change: Partial<Member>, summary: string) =>
    onChange({ members: members.map((m, k) => (k === i ? { ...m, ...change } : m)) }, summary);
  return (
    <section className="mt-3 border-t border-line pt-2" aria-label="Animals that live together">
      <h3 className="font-semibold">Who lives together</h3>
      <p className="text-sm text-soft">
        {company ? `${RULE[company.rule]}: ${company.source}.` : "Most species live alone."}
      </p>
      <ul className="mt-1 space-y-2">
        {members.map((m, i) => (
          <li
            key={i}
            className="grid items-end gap-x-3 gap-y-1 rounded-md border border-line p-2 sm:grid-cols-[1fr_8rem_8rem_auto]"
          >
            <TextField
              label={`Name of animal ${i + 1}`}
              value={m.name ?? ""}
              most={80}
              onCommit={(name) => put(i, { name }, name)}
            />
            <SelectField
              label="Sex"
              value={m.sex ?? "unknown"}
              options={[...SEXES]}
              onChange={(sex) => put(i, { sex: sex as NonNullable<Member["sex"]> }, sex)}
            />
            <NumberField
              label="Length"
              dimension="length"
              value={m.body_length_m ?? animal.body_length_m}
              min={0.01}
              max={8}
              onCommit={(body_length_m) => put(i, { body_length_m }, "length of one")}
            />
            <Button
              size="small"
              aria-label={`Remove animal ${i + 1} from the list`}
              onClick={() => onChange({ members: members.filter((_, k) => k !== i) }, "one less")}
            >
              <Trash2 size={15} aria-hidden />
            </Button>
          </li>
        ))}
      </ul>
      {members.length < MOST && (
        <Button
          size="small"
          className="mt-2"
          onClick={() =>
            onChange(
              { members: [...members, { name: "", sex: "unknown", body_length_m: null }] },
              "one more listed",
            )
          }
        >
          <Plus size={15} aria-hidden />
          List an animal
        </Button>
      )}
    </section>
  );
}
