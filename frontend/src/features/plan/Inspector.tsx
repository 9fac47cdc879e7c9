import { Tabs } from "radix-ui";
import { memo } from "react";
import { useSelection } from "../../canvas/selection";
import { fixturesOf, thermostatsOf } from "../../domain/plan/document";
import { AnimalForm } from "./AnimalForm";
import { EnclosureForm, type Face } from "./EnclosureForm";
import { FixtureForm } from "./FixtureForm";
import { FurnishingsForm } from "./FurnishingsForm";
import type { FormProps } from "./forms";
import { LidForm } from "./LidForm";
import { PARTS } from "./parts";
import { SelectionForm } from "./SelectionForm";
import { SubstrateForm } from "./SubstrateForm";
import { MoistureForm, RoomForm } from "./SurroundingsForms";
import { ThermostatForm } from "./ThermostatForm";

interface InspectorProps extends FormProps {
  selected: string;
  /** The side whose form is wanted, as that of a vent chosen in the drawing. */
  face?: Face | undefined;
  onSelect: (id: string) => void;
}

/** Everything about the selected thing, typed or slid. */
export const Inspector = memo(function Inspector(props: InspectorProps) {
  const { document: d, selected, onSelect } = props;
  const { keys } = useSelection();
  if (keys.length > 1) return <SelectionForm {...props} />;
  const tabs = [
    ...fixturesOf(d).map((f) => ({ id: f.id, label: f.label })),
    ...thermostatsOf(d).map((t) => ({ id: t.id, label: t.label })),
    ...PARTS,
  ];
  const tab = selected.startsWith("furnishing:") ? "furnishings" : selected;
  return (
    <Tabs.Root value={tab} onValueChange={onSelect} activationMode="manual">
      <div className="px-2 pt-2">
        <Tabs.List aria-label="Parts of the plan" className="flex flex-wrap gap-1">
          {tabs.map((tab) => (
            <Tabs.Trigger
              key={tab.id}
              value={tab.id}
              className="min-h-7 rounded-md px-2 text-sm font-medium whitespace-nowrap text-soft hover:bg-wash data-[state=active]:bg-accent data-[state=active]:text-accent-ink pointer-coarse:px-3"
            >
              {tab.label}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
      </div>
      {fixturesOf(d).map((f) => (
        <Tabs.Content key={f.id} value={f.id} className="px-4 pt-3 pb-4">
          <FixtureForm {...props} fixture={f} />
        </Tabs.Content>
      ))}
      {thermostatsOf(d).map((t) => (
        <Tabs.Content key={t.id} value={t.id} className="px-4 pt-3 pb-4">
          <ThermostatForm {...props} thermostat={t} />
        </Tabs.Content>
      ))}
      <Tabs.Content value="furnishings" className="px-4 pt-3 pb-4">
        <FurnishingsForm {...props} />
      </Tabs.Content>
      <Tabs.Content value="animal" className="px-4 pt-3 pb-4">
        <AnimalForm {...props} />
      </Tabs.Content>
      <Tabs.Content value="enclosure" className="px-4 pt-3 pb-4">
        <EnclosureForm {...props} open={props.face} />
      </Tabs.Content>
      <Tabs.Content value="lid" className="px-4 pt-3 pb-4">
        <LidForm {...props} />
      </Tabs.Content>
      <Tabs.Content value="substrate" className="px-4 pt-3 pb-4">
        <SubstrateForm {...props} />
      </Tabs.Content>
      <Tabs.Content value="moisture" className="px-4 pt-3 pb-4">
        <MoistureForm {...props} />
      </Tabs.Content>
      <Tabs.Content value="room" className="px-4 pt-3 pb-4">
        <RoomForm {...props} />
      </Tabs.Content>
    </Tabs.Root>
  );
});
