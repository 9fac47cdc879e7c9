import { useState } from "react";
import { fetchDayLength } from "../../../api/client";
import type { PlanDocument } from "../../../api/types";
import { useAction } from "../../../app/useAction";
import { fixed } from "../../../domain/units/units";
import { Button } from "../../../ui/Button";
import { Help } from "../../../ui/Help";
import { NumberField } from "../../../ui/NumberField";
import type { FormProps } from "../forms";
import { clock } from "./series";

/** How long the lamps' day is: fixed, or as it is outside somewhere on a date. */
export function DayLength({
  document: d,
  edits,
}: {
  document: PlanDocument;
  edits: FormProps["edits"];
}) {
  const [latitude, setLatitude] = useState(52);
  const [date, setDate] = useState(() => new Date().toISOString().slice(0, 10));
  const put = (hours: number, why: string) =>
    edits.commit({ ...d, photoperiod_h: Number(hours.toFixed(2)) }, why);
  const like = useAction(
    () => fetchDayLength(latitude, date),
    (hours) =>
      put(hours, `Lamps ${fixed(hours, 1)} h a day, as at ${fixed(latitude, 0)}° on ${date}`),
  );
  const [dawn, dusk] = [12 - d.photoperiod_h / 2, 12 + d.photoperiod_h / 2];
  return (
    <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
      <div className="w-64">
        <NumberField
          label="Lamps' day"
          dimension="duration"
          value={d.photoperiod_h}
          min={0}
          max={24}
          onCommit={(h) => put(h, `Lamps ${fixed(h, 1)} h a day`)}
          help={
            <Help about="the lamps' day">
              Around noon: now from {clock(dawn)} to {clock(dusk)}. Many animals are kept by the day
              length of where they come from, month by month.
            </Help>
          }
        />
      </div>
      <div className="w-56">
        <NumberField
          label="or as outside at latitude"
          dimension="angle"
          value={latitude}
          min={-90}
          max={90}
          onCommit={setLatitude}
        />
      </div>
      <label className="block">
        <span className="text-sm text-soft">on</span>
        <input
          type="date"
          value={date}
          onChange={(e) => e.target.value && setDate(e.target.value)}
          className="block h-9 rounded-md border border-edge bg-raised px-2"
        />
      </label>
      <Button size="small" onClick={() => like.mutate()}>
        Use that day
      </Button>
    </div>
  );
}
