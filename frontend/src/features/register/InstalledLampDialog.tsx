import { useState } from "react";
import type { Catalog, InstalledLamp } from "../../api/types";
import { DialogButtons } from "../../ui/DialogButtons";
import { DayField, LineField, NoteField } from "../../ui/fields";
import { NumberFields, type NumberRow } from "../../ui/NumberFields";
import { Panel } from "../../ui/Panel";
import { SelectField } from "../../ui/SelectField";

interface InstalledLampDialogProps {
  lamp: InstalledLamp;
  known: boolean;
  catalog: Catalog;
  onSave: (lamp: InstalledLamp) => Promise<boolean>;
  onRemove: () => void;
  onClose: () => void;
}

const ROWS: readonly NumberRow<InstalledLamp>[] = [
  { key: "power_w", label: "Power", dimension: "power", min: 1, max: 2000 },
  {
    key: "hours_before",
    label: "Burned before it was registered",
    dimension: "hours",
    min: 0,
    max: 100_000,
  },
];

/** A lamp of the register: its kind, since when, and what it had burned before. */
export function InstalledLampDialog({
  lamp,
  known,
  catalog,
  onSave,
  onRemove,
  onClose,
}: InstalledLampDialogProps) {
  const [made, setMade] = useState(lamp);
  const change = (part: Partial<InstalledLamp>) => setMade((old) => ({ ...old, ...part }));
  return (
    <Panel
      open
      onOpenChange={(open) => !open && onClose()}
      title={known ? `Change ${lamp.label}` : "A spare lamp"}
      description="Write the day you first hang it on the lamp itself too."
    >
      <form
        className="space-y-3"
        onSubmit={async (e) => {
          e.preventDefault();
          if (await onSave({ ...made, label: made.label.trim() })) onClose();
        }}
      >
        <LineField
          label="Name"
          required
          most={80}
          value={made.label}
          onChange={(label) => change({ label })}
        />
        <SelectField
          label="Kind"
          value={made.lamp_id}
          onChange={(lamp_id) => {
            const lamp = catalog.lamps.find((l) => l.id === lamp_id);
            change({ lamp_id, ...(lamp ? { power_w: lamp.power_w } : {}) });
          }}
          options={catalog.lamps.map((l) => ({ value: l.id, label: l.label }))}
        />
        <div className="flex flex-wrap gap-3">
          <NumberFields rows={ROWS} of={made} onCommit={change} />
          <DayField
            label="First hung on"
            value={made.installed_on}
            onChange={(installed_on) => change({ installed_on })}
          />
        </div>
        <NoteField
          label="Note"
          rows={2}
          most={1000}
          value={made.note}
          onChange={(note) => change({ note })}
        />
        <DialogButtons
          known={known}
          onClose={onClose}
          onRemove={onRemove}
          removal="Remove from the register"
        />
      </form>
    </Panel>
  );
}
