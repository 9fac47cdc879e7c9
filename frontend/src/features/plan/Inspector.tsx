import { Plus } from "lucide-react";
import { Tabs } from "radix-ui";
import { memo } from "react";
import { fixturesOf, newFixture, newThermostat, thermostatsOf } from "../../domain/plan/document";
import { Button } from "../../ui/Button";
import { AnimalForm } from "./AnimalForm";
import { EnclosureForm, type Face } from "./EnclosureForm";
import { FixtureForm } from "./FixtureForm";
import { AddFurnishing, FurnishingsForm } from "./FurnishingsForm";
import type { FormProps } from "./forms";
import { LidForm } from "./LidForm";
import { MoistureForm, RoomForm, SubstrateForm } from "./SurroundingsForms";
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
  const tabs = [
    ...fixturesOf(d).map((f) => ({ id: f.id, label: f.label })),
    ...thermostatsOf(d).map((t) => ({ id: t.id, label: t.label })),
    { id: "furnishings", label: "Furnishings" },
    { id: "animal", label: "Animal" },
    { id: "enclosure", label: "Enclosure" },
    { id: "lid", label: "Lid" },
    { id: "substrate", label: "Substrate" },
    { id: "moisture", label: "Moisture" },
    { id: "room", label: "Room" },
  ];
  const add = () => {
    const fixture = newFixture(d);
    props.edits.commit({ ...d, fixtures: [...fixturesOf(d), fixture] }, `${fixture.label} added`);
    onSelect(fixture.id);
  };
  const addThermostat = () => {
    const made = newThermostat(d);
    props.edits.commit({ ...d, thermostats: [...thermostatsOf(d), made] }, `${made.label} added`);
    onSelect(made.id);
  };
  const tab = selected.startsWith("furnishing:") ? "furnishings" : selected;
  return (
    <Tabs.Root value={tab} onValueChange={onSelect} activationMode="manual">
      <div className="flex flex-wrap items-center gap-1 border-y border-line bg-ground px-2 py-1.5">
        <Tabs.List aria-label="Parts of the plan" className="flex flex-wrap gap-1">
          {tabs.map((tab) => (
            <Tabs.Trigger
              key={tab.id}
              value={tab.id}
              className="min-h-9 rounded-md px-3 text-sm font-medium whitespace-nowrap text-soft hover:bg-wash data-[state=active]:bg-accent data-[state=active]:text-accent-ink"
            >
              {tab.label}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
        <div className="ml-auto flex flex-wrap">
          <Button size="small" tone="quiet" onClick={add}>
            <Plus size={15} aria-hidden />
            Add a lamp
          </Button>
          <AddFurnishing {...props} />
          {thermostatsOf(d).length < 12 && (
            <Button size="small" tone="quiet" onClick={addThermostat}>
              <Plus size={15} aria-hidden />
              Add a thermostat
            </Button>
          )}
        </div>
      </div>
      {fixturesOf(d).map((f) => (
        <Tabs.Content key={f.id} value={f.id} className="p-4">
          <FixtureForm {...props} fixture={f} />
        </Tabs.Content>
      ))}
      {thermostatsOf(d).map((t) => (
        <Tabs.Content key={t.id} value={t.id} className="p-4">
          <ThermostatForm {...props} thermostat={t} />
        </Tabs.Content>
      ))}
      <Tabs.Content value="furnishings" className="p-4">
        <FurnishingsForm {...props} />
      </Tabs.Content>
      <Tabs.Content value="animal" className="p-4">
        <AnimalForm {...props} />
      </Tabs.Content>
      <Tabs.Content value="enclosure" className="p-4">
        <EnclosureForm {...props} open={props.face} />
      </Tabs.Content>
      <Tabs.Content value="lid" className="p-4">
        <LidForm {...props} />
      </Tabs.Content>
      <Tabs.Content value="substrate" className="p-4">
        <SubstrateForm {...props} />
      </Tabs.Content>
      <Tabs.Content value="moisture" className="p-4">
        <MoistureForm {...props} />
      </Tabs.Content>
      <Tabs.Content value="room" className="p-4">
        <RoomForm {...props} />
      </Tabs.Content>
    </Tabs.Root>
  );
});
