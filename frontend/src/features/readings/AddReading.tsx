import { useState } from "react";
import type { Instrument, PlanDocument, ReadingKind } from "../../api/types";
import {
  DIMENSION_OF,
  freshId,
  HOW,
  INSTRUMENT,
  KIND,
  KINDS,
  momentNow,
  needsPlace,
  SHOWABLE,
} from "../../domain/readings/kinds";
import { post } from "../../domain/readings/outbox";
import { Button } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";
import { Panel } from "../../ui/Panel";
import { SelectField } from "../../ui/SelectField";
import { PlaceFields } from "./PlaceFields";

interface AddReadingProps {
  planId: string;
  revision: number;
  document: PlanDocument;
  instruments: readonly Instrument[];
}

const USUAL: Record<ReadingKind, number> = {
  surface: 35,
  air: 25,
  air_min: 18,
  air_max: 30,
  uvi_facing: 2,
  uvi_level: 2,
  humidity: 0.5,
  humidity_night: 0.6,
  room_air: 21,
  room_humidity: 0.5,
};

/** A reading of the keeper's own choosing, anywhere in the enclosure. */
export function AddReading(props: AddReadingProps) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button size="small" onClick={() => setOpen(true)}>
        Add a reading
      </Button>
      <Panel
        open={open}
        onOpenChange={setOpen}
        title="Add a reading"
        description="One you have taken yourself, by day and with the enclosure warm."
      >
        {open && <Form {...props} onDone={() => setOpen(false)} />}
      </Panel>
    </>
  );
}

function Form({
  planId,
  revision,
  document,
  instruments,
  onDone,
}: AddReadingProps & { onDone: () => void }) {
  const { enclosure, substrate } = document;
  const [kind, setKind] = useState<ReadingKind>("surface");
  const [value, setValue] = useState<number>(USUAL.surface);
  const [place, setPlace] = useState("");
  const [at, setAt] = useState({
    x_m: enclosure.length_m / 2,
    y_m: enclosure.depth_m / 2,
    z_m: substrate.depth_m + 0.001,
  });
  const [instrument, setInstrument] = useState("");
  const dimension = DIMENSION_OF[kind];
  const [low, high] = SHOWABLE[dimension as keyof typeof SHOWABLE];
  const save = () => {
    post(planId, {
      id: freshId(),
      round_id: null,
      task: null,
      revision,
      kind,
      value,
      at_m: needsPlace(kind) ? at : null,
      place: place || (needsPlace(kind) ? "A place of my own" : "Room"),
      taken_at: momentNow(),
      instrument_id: instrument || null,
      source: "hand",
      note: "",
      excluded: false,
    });
    onDone();
  };
  return (
    <div className="space-y-3">
      <div className="grid grid-cols-2 gap-3">
        <SelectField
          label="What"
          value={kind}
          onChange={(k) => {
            setKind(k as ReadingKind);
            setValue(USUAL[k as ReadingKind]);
          }}
          options={KINDS.map((k) => ({ value: k, label: KIND[k] }))}
        />
        <SelectField
          label="With"
          value={instrument}
          onChange={setInstrument}
          options={[
            { value: "", label: `A common ${INSTRUMENT[kind]}` },
            ...instruments
              .filter((i) => i.kind === INSTRUMENT[kind])
              .map((i) => ({ value: i.id, label: i.label })),
          ]}
        />
      </div>
      <p className="text-sm text-soft">{HOW[kind]}</p>
      {needsPlace(kind) && (
        <PlaceFields document={document} place={place} at={at} onPlace={setPlace} onAt={setAt} />
      )}
      <NumberField
        label="The display shows"
        value={value}
        dimension={dimension}
        min={low}
        max={high}
        onCommit={setValue}
      />
      <div className="flex justify-end gap-2">
        <Button onClick={onDone}>Leave it</Button>
        <Button tone="strong" onClick={save}>
          Save the reading
        </Button>
      </div>
    </div>
  );
}
