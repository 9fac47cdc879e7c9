import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { setRoomClimate } from "../../api/client";
import type { RoomClimate } from "../../api/types";
import { describe, useNotify } from "../../app/notices";
import { MONTH_NAMES } from "../../domain/year/year";
import { Button } from "../../ui/Button";
import { CheckField } from "../../ui/CheckField";
import { type MonthColumn, MonthTable } from "../../ui/MonthTable";
import { NumberField } from "../../ui/NumberField";
import { Panel } from "../../ui/Panel";
import { SelectField } from "../../ui/SelectField";

interface ClimatePanelProps {
  climate: RoomClimate | null;
  open: boolean;
  onOpenChange: (open: boolean) => void;
}

type Month = RoomClimate["months"][number];
type Column = keyof Month;

const COLUMNS: readonly MonthColumn<Column>[] = [
  { key: "day_temperature_c", label: "by day", dimension: "temperature", low: -30, high: 60 },
  { key: "night_temperature_c", label: "by night", dimension: "temperature", low: -30, high: 60 },
  { key: "relative_humidity", label: "humidity", dimension: "share", low: 0.05, high: 1 },
];

/** A lived-in room in a temperate climate; estimates, to be replaced by the keeper's own readings. */
const USUAL: readonly [number, number, number][] = [
  [19, 16, 0.4],
  [19, 16, 0.4],
  [20, 17, 0.42],
  [21, 17, 0.45],
  [22, 18, 0.48],
  [24, 20, 0.52],
  [26, 21, 0.55],
  [26, 21, 0.55],
  [23, 19, 0.52],
  [21, 18, 0.48],
  [20, 17, 0.43],
  [19, 16, 0.4],
];

function usual(): RoomClimate {
  return {
    months: USUAL.map(([day_temperature_c, night_temperature_c, relative_humidity]) => ({
      day_temperature_c,
      night_temperature_c,
      relative_humidity,
    })),
    month: new Date().getMonth() + 1,
    tariff_per_kwh: 0.3,
  };
}

/** The climate of the room by month and time of day, set once for every enclosure in it. */
export function ClimatePanel({ climate, open, onOpenChange }: ClimatePanelProps) {
  return (
    <Panel
      open={open}
      onOpenChange={onOpenChange}
      title="Climate of the room"
      description="Highest by day, lowest by night and humidity in each month, from a thermometer with memory. Plans that follow the room take it from here."
    >
      <ClimateForm
        key={JSON.stringify(climate)}
        climate={climate}
        onDone={() => onOpenChange(false)}
      />
    </Panel>
  );
}

function ClimateForm({ climate, onDone }: { climate: RoomClimate | null; onDone: () => void }) {
  const queries = useQueryClient();
  const notify = useNotify();
  const [draft, setDraft] = useState(climate ?? usual());
  const [everyPlan, setEveryPlan] = useState(climate === null);
  const save = useMutation({
    mutationFn: () => setRoomClimate(draft, everyPlan),
    onSuccess: (changed) => {
      void queries.invalidateQueries();
      notify({
        title: "The climate of the room is set",
        detail:
          changed.length === 0
            ? "No plan had to be changed."
            : `${changed.length} ${changed.length === 1 ? "plan has" : "plans have"} a new revision with it.`,
        tone: "plain",
        action: climate ? { label: "Undo", run: () => undo.mutate(climate) } : undefined,
      });
      onDone();
    },
    onError: (error) => notify({ ...describe(error), tone: "trouble" }),
  });
  // Plans that follow take it back with their own revision.
  const undo = useMutation({
    mutationFn: (before: RoomClimate) => setRoomClimate(before, false),
    onSuccess: () => {
      void queries.invalidateQueries();
      notify({ title: "The climate of the room was restored", tone: "plain" });
    },
    onError: (error) => notify({ ...describe(error), tone: "trouble" }),
  });
  const put = (month: number, key: Column, value: number) =>
    setDraft({
      ...draft,
      months: draft.months.map((m, i) => (i === month ? { ...m, [key]: value } : m)),
    });
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        save.mutate();
      }}
    >
      {climate === null && (
        <p className="mb-2 rounded-md bg-wash p-2 text-sm">
          Not set yet. These are estimates for a lived-in room. Enter your own readings.
        </p>
      )}
      <MonthTable
        columns={COLUMNS}
        figureOf={(month, key) => draft.months[month]?.[key] ?? 0}
        onCommit={put}
      />
      <div className="mt-3 grid grid-cols-2 gap-3">
        <SelectField
          label="Month the checks are for"
          value={String(draft.month)}
          onChange={(text) => setDraft({ ...draft, month: Number(text) })}
          options={MONTH_NAMES.map((label, i) => ({ value: String(i + 1), label }))}
        />
        <NumberField
          label="Electricity, a kWh"
          dimension="money"
          value={draft.tariff_per_kwh}
          min={0}
          max={1000}
          onCommit={(tariff_per_kwh) => setDraft({ ...draft, tariff_per_kwh })}
        />
      </div>
      <CheckField
        label="Every plan follows it from now on"
        checked={everyPlan}
        onChange={setEveryPlan}
      />
      <div className="mt-3 flex justify-end gap-2">
        <Button onClick={onDone}>Cancel</Button>
        <Button type="submit" tone="strong" disabled={save.isPending}>
          {save.isPending ? "Setting it…" : "Set it"}
        </Button>
      </div>
    </form>
  );
}
