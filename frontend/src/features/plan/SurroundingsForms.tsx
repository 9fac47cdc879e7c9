import { useQuery } from "@tanstack/react-query";
import { fetchRoom } from "../../api/client";
import type { PlanDocument } from "../../api/types";
import { fixed } from "../../domain/units/units";
import { CheckField } from "../../ui/CheckField";
import { GRID } from "../../ui/grid";
import { Help } from "../../ui/Help";
import { NumberField } from "../../ui/NumberField";
import { NumberFields, type NumberRow } from "../../ui/NumberFields";
import type { FormProps } from "./forms";
import { WateringTable } from "./WateringTable";

type Season = "winter" | "summer";
const SEASON: Record<Season, { name: string; by: number }> = {
  winter: { name: "coldest month", by: -4 },
  summer: { name: "warmest month", by: 6 },
};

const CELSIUS = { dimension: "temperature", min: -30, max: 60 } as const;
const HUMIDITY: NumberRow<ClimateFigures> = {
  key: "relative_humidity",
  label: "Relative humidity",
  dimension: "share",
  min: 0.05,
  max: 1,
  summary: (shown) => `Room ${shown} humid`,
};
type ClimateFigures = Pick<
  PlanDocument["room"],
  "day_temperature_c" | "night_temperature_c" | "relative_humidity"
>;

const SEASON_ROWS: readonly NumberRow<ClimateFigures>[] = [
  {
    key: "day_temperature_c",
    label: "Highest by day",
    ...CELSIUS,
    summary: (shown) => `Room ${shown} by day`,
  },
  {
    key: "night_temperature_c",
    label: "Lowest by night",
    ...CELSIUS,
    summary: (shown) => `Room ${shown} by night`,
  },
  HUMIDITY,
];

const ROOM_ROWS: readonly NumberRow<ClimateFigures>[] = [
  {
    key: "day_temperature_c",
    label: "Room by day",
    ...CELSIUS,
    live: true,
    summary: (shown) => `Room ${shown} by day`,
    help: (
      <Help about="room temperature">
        The same enclosure needs a stronger lamp in a cold room than in a warm one. Try your coldest
        and your warmest day.
      </Help>
    ),
  },
  {
    key: "night_temperature_c",
    label: "Room by night",
    ...CELSIUS,
    live: true,
    summary: (shown) => `Room ${shown} by night`,
  },
  { ...HUMIDITY, label: "Relative humidity by day" },
];

/** The room in its coldest or warmest month, once that is given. */
function SeasonFields({ season, document: d, edits }: FormProps & { season: Season }) {
  const climate = d.room[season] ?? null;
  const { name, by } = SEASON[season];
  const put = (value: typeof climate) => ({
    ...d,
    room: { ...d.room, follows: false, [season]: value },
  });
  const usual = {
    day_temperature_c: d.room.day_temperature_c + by,
    night_temperature_c: d.room.night_temperature_c + by,
    relative_humidity: d.room.relative_humidity,
  };
  return (
    <fieldset className="rounded-md border border-line p-2">
      <legend className="px-1 text-sm">
        <label className="flex min-h-7 items-center gap-2">
          <input
            type="checkbox"
            className="size-4 accent-accent"
            checked={climate !== null}
            onChange={(e) =>
              edits.commit(
                put(e.target.checked ? usual : null),
                e.target.checked ? `Room in its ${name}` : `Room in its ${name}: removed`,
              )
            }
          />
          In its {name}
        </label>
      </legend>
      {climate && (
        <div className="grid gap-2">
          <NumberFields
            rows={SEASON_ROWS}
            of={climate}
            onCommit={(part, summary) =>
              edits.commit(put({ ...climate, ...part }), `${summary} in its ${name}`)
            }
          />
        </div>
      )}
    </fieldset>
  );
}

/** Spraying by hand or timer, and fog. */
export function MoistureForm({ document: d, evaluation, edits }: FormProps) {
  const misting = d.mistings?.[0] ?? null;
  const times = misting?.hours ?? [];
  const put = (hours: number[], litres: number) => ({
    ...d,
    mistings: hours.length ? [{ hours, litres }] : [],
  });
  const litres = misting?.litres ?? 0.2;
  return (
    <div>
      <fieldset>
        <legend className="text-sm text-soft">Sprayed at these hours</legend>
        <div className="flex flex-wrap gap-1 py-1">
          {Array.from({ length: 24 }, (_, hour) => {
            const on = times.includes(hour);
            const next = on
              ? times.filter((t) => t !== hour)
              : [...times, hour].sort((a, b) => a - b);
            return (
              <button
                key={hour}
                type="button"
                aria-pressed={on}
                aria-label={`${hour} o'clock`}
                onClick={() =>
                  edits.commit(
                    put(next, litres),
                    next.length ? `Sprayed at ${next.join(", ")}` : "Not sprayed",
                  )
                }
                className={`size-9 rounded-md border text-sm ${on ? "border-accent bg-accent text-accent-ink" : "border-edge bg-raised hover:bg-wash"}`}
              >
                {hour}
              </button>
            );
          })}
        </div>
      </fieldset>
      <div className={GRID}>
        {times.length > 0 && (
          <NumberField
            label="Water each time"
            dimension="millilitres"
            value={litres}
            min={0.01}
            max={20}
            onCommit={(l) => edits.commit(put(times, l), `${fixed(1000 * l, 0)} ml each time`)}
          />
        )}
        <NumberField
          label="Fog brings, an hour"
          dimension="millilitres"
          value={d.fog_kg_h}
          min={0}
          max={5}
          onCommit={(kg) =>
            edits.commit({ ...d, fog_kg_h: kg }, `Fog brings ${fixed(1000 * kg, 0)} ml an hour`)
          }
          help={
            <Help about="fog">
              The water a fogger uses in an hour. All of it goes into the air, and some settles on
              cool walls.
            </Help>
          }
        />
      </div>
      <p className="mt-2 text-sm text-soft">
        Constant wetness is as much a fault as drought: let surfaces dry between sprayings. Keep
        water away from lamps and mains; a residual-current device belongs on every circuit here.
      </p>
      <WateringTable evaluation={evaluation} />
    </div>
  );
}

/** The room around the enclosure. */
export function RoomForm(props: FormProps) {
  const { document: d, edits } = props;
  const room = useQuery({ queryKey: ["room"], queryFn: fetchRoom });
  const followed = room.data?.followed ?? null;
  // What is changed by hand no longer follows the room.
  const change = (part: Partial<PlanDocument["room"]>) => ({
    ...d,
    room: { ...d.room, follows: false, ...part },
  });
  return (
    <div className={GRID}>
      {followed && (
        <div className="sm:col-span-2">
          <CheckField
            label="Follows the climate set for the whole room"
            checked={d.room.follows ?? false}
            onChange={(follows) =>
              edits.commit(
                { ...d, room: follows ? followed : { ...d.room, follows: false } },
                follows ? "Follows the room" : "A separate climate",
              )
            }
            help={
              <Help about="the climate of the room">
                The climate of the room is set by month on the room’s screen. An enclosure in a
                warmer or colder corner can have its own: type it here.
              </Help>
            }
          />
        </div>
      )}
      <NumberFields
        rows={ROOM_ROWS}
        of={d.room}
        onPreview={(part) => edits.preview(change(part))}
        onCommit={(part, summary) => edits.commit(change(part), summary)}
      />
      <NumberField
        label="Light lost in fog over 10 cm"
        dimension="share"
        value={1 - Math.exp(-d.fog_per_m / 10)}
        min={0}
        max={0.9}
        onCommit={(share) =>
          edits.commit(
            { ...d, fog_per_m: Number((-10 * Math.log(1 - share)).toFixed(4)) },
            `Fog takes ${fixed(100 * share, 0)} % over 10 cm`,
          )
        }
        help={
          <Help about="fog">While a fogger runs, droplets take away light. 0 without fog.</Help>
        }
      />
      <NumberField
        label="Electricity, a kWh"
        dimension="money"
        value={d.room.tariff_per_kwh}
        min={0}
        max={1000}
        onCommit={(t) =>
          edits.commit({ ...d, room: { ...d.room, tariff_per_kwh: t } }, `${fixed(t, 2)} a kWh`)
        }
      />
      <SeasonFields season="winter" {...props} />
      <SeasonFields season="summer" {...props} />
    </div>
  );
}
