import { Plus } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import type { PlanDocument } from "../../api/types";
import type { StageEdits } from "../../canvas/edits";
import {
  fixturesOf,
  furnishingsOf,
  newFixture,
  newThermostat,
  thermostatsOf,
} from "../../domain/plan/document";
import { furnishingKey, KINDS, newFurnishing } from "../../domain/plan/furnishings";
import { addPin, MOST_PINS, pinsOf } from "../../domain/plan/pins";
import { Button } from "../../ui/Button";
import { useItemClipboard } from "./itemClipboard";

const MOST_FURNISHINGS = 60;
const MOST_THERMOSTATS = 12;

export interface AddMenuProps {
  document: PlanDocument;
  edits: StageEdits;
  /** Select what was added. */
  onSelect: (key: string) => void;
}

/** Everything that can be put into the enclosure. */
export function AddMenu({ document: d, edits, onSelect }: AddMenuProps) {
  const { paste } = useItemClipboard();
  const add = (change: Partial<PlanDocument>, label: string, key: string) => {
    edits.commit({ ...d, ...change }, `${label} added`);
    onSelect(key);
  };
  const addLamp = () => {
    const made = newFixture(d);
    add({ fixtures: [...fixturesOf(d), made] }, made.label, made.id);
  };
  const addThermostat = () => {
    const made = newThermostat(d);
    add({ thermostats: [...thermostatsOf(d), made] }, made.label, made.id);
  };
  const addFurnishing = (kind: (typeof KINDS)[number]["kind"]) => {
    const made = newFurnishing(d, kind);
    add({ furnishings: [...furnishingsOf(d), made] }, made.label, furnishingKey(made.id));
  };
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>
        <Button size="small">
          <Plus size={15} aria-hidden /> <span className="max-sm:sr-only">Add</span>
        </Button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          collisionPadding={8}
          className="z-50 max-h-(--radix-dropdown-menu-content-available-height) w-80 max-w-[95vw] overflow-y-auto rounded-lg border border-edge bg-raised p-1 shadow-lg"
        >
          <Item label="Lamp or heater" says="hung, on the mesh, or a mat" onSelect={addLamp} />
          <Item
            label="Thermostat"
            says="with a probe, for lamps and heaters"
            disabled={thermostatsOf(d).length >= MOST_THERMOSTATS}
            onSelect={addThermostat}
          />
          <Item
            label="Pinned place"
            says="keeps showing its figures while you change the plan"
            disabled={pinsOf(d).length >= MOST_PINS}
            onSelect={() => addPin(d, undefined, edits, onSelect)}
          />
          <DropdownMenu.Separator className="my-1 h-px bg-line" />
          {KINDS.map(({ kind, label, says }) => (
            <Item
              key={kind}
              label={label}
              says={says}
              disabled={furnishingsOf(d).length >= MOST_FURNISHINGS}
              onSelect={() => addFurnishing(kind)}
            />
          ))}
          <DropdownMenu.Separator className="my-1 h-px bg-line" />
          <Item
            label="Paste"
            says="what you copied in this or another enclosure (Ctrl V)"
            onSelect={paste}
          />
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

interface ItemProps {
  label: string;
  says: string;
  disabled?: boolean;
  onSelect: () => void;
}

function Item({ label, says, disabled = false, onSelect }: ItemProps) {
  return (
    <DropdownMenu.Item
      disabled={disabled}
      onSelect={onSelect}
      className="cursor-pointer rounded-md px-3 py-1 outline-none data-disabled:opacity-50 data-highlighted:bg-wash"
    >
      <span className="block font-medium">{label}</span>
      <span className="block text-sm leading-tight text-soft">{says}</span>
    </DropdownMenu.Item>
  );
}
