import type { PlanDocument, Reading } from "../../api/types";
import { Help } from "../../ui/Help";
import { NumberField } from "../../ui/NumberField";
import { SelectField } from "../../ui/SelectField";
import { TextField } from "../../ui/TextField";

type At = NonNullable<Reading["at_m"]>;

interface PlaceFieldsProps {
  document: PlanDocument;
  place: string;
  at: At;
  onPlace: (place: string) => void;
  onAt: (at: At) => void;
}

/** A place in the enclosure: in words, by a pin of the drawing, or by its three measures. */
export function PlaceFields({ document, place, at, onPlace, onAt }: PlaceFieldsProps) {
  const { enclosure, substrate } = document;
  const pins = document.pins ?? [];
  return (
    <>
      <div className="grid grid-cols-2 gap-3">
        <TextField label="Where, in words" value={place} most={80} onCommit={onPlace} />
        {pins.length > 0 && (
          <SelectField
            label="At a pin of the drawing"
            value=""
            onChange={(id) => {
              const found = pins.find((p) => p.id === id);
              if (!found) return;
              onAt(found.at_m);
              onPlace(found.label);
            }}
            options={[
              { value: "", label: "Choose…" },
              ...pins.map((p) => ({ value: p.id, label: p.label })),
            ]}
          />
        )}
      </div>
      <div className="grid grid-cols-3 gap-3">
        <NumberField
          label="From the left"
          value={at.x_m}
          dimension="length"
          min={0}
          max={enclosure.length_m}
          onCommit={(x_m) => onAt({ ...at, x_m })}
        />
        <NumberField
          label="From the front"
          value={at.y_m}
          dimension="length"
          min={0}
          max={enclosure.depth_m}
          onCommit={(y_m) => onAt({ ...at, y_m })}
        />
        <NumberField
          label="Above the ground"
          value={at.z_m - substrate.depth_m}
          dimension="length"
          min={-substrate.depth_m}
          max={enclosure.height_m - substrate.depth_m}
          help={
            <Help about="height">
              Below 0 the probe is buried: −5 is 5 below the surface of the ground.
            </Help>
          }
          onCommit={(over) => onAt({ ...at, z_m: substrate.depth_m + over })}
        />
      </div>
    </>
  );
}
