import type { PlanDocument } from "../../api/types";
import { usePreferences } from "../../app/preferences";
import { deepestSubstrate } from "../../plan/document";
import { Help } from "../../ui/Help";
import { NumberField } from "../../ui/NumberField";
import { SelectField } from "../../ui/SelectField";
import { fixed, show } from "../../units/units";
import { type FormProps, GRID } from "./forms";

/** What covers the floor. */
export function SubstrateForm({ document: d, catalog, edits }: FormProps) {
  const { units } = usePreferences();
  const change = (part: Partial<PlanDocument["substrate"]>) => ({
    ...d,
    substrate: { ...d.substrate, ...part },
  });
  const litres = d.box.length_m * d.box.depth_m * d.substrate.depth_m * 1000;
  return (
    <div>
      <div className={GRID}>
        <SelectField
          label="Material"
          value={d.substrate.material_id}
          options={catalog.materials
            .filter((m) => m.uses.includes("substrate"))
            .map((m) => ({ value: m.id, label: m.label }))}
          onChange={(id) =>
            edits.commit(
              change({ material_id: id }),
              `Substrate: ${catalog.materials.find((m) => m.id === id)?.label ?? id}`,
            )
          }
        />
        <NumberField
          label="Depth"
          dimension="length"
          value={d.substrate.depth_m}
          min={0}
          max={deepestSubstrate(d)}
          onPreview={(m) => edits.preview(change({ depth_m: m }))}
          onCommit={(m) =>
            edits.commit(change({ depth_m: m }), `Substrate ${show(m, "length", units)} deep`)
          }
          help={
            <Help about="depth">
              Everything on it rises with the substrate: deeper ground brings the animal nearer to
              the lamps.
            </Help>
          }
        />
      </div>
      <p className="mt-3 text-sm text-soft">About {fixed(litres, 0)} litres fill this floor.</p>
    </div>
  );
}

/** The room around the box. */
export function RoomForm({ document: d, edits }: FormProps) {
  const { units } = usePreferences();
  const change = (part: Partial<PlanDocument["room"]>) => ({ ...d, room: { ...d.room, ...part } });
  const degrees = (c: number) => show(c, "temperature", units, 1);
  return (
    <div className={GRID}>
      <NumberField
        label="Room by day"
        dimension="temperature"
        value={d.room.day_temperature_c}
        min={-30}
        max={60}
        onPreview={(c) => edits.preview(change({ day_temperature_c: c }))}
        onCommit={(c) =>
          edits.commit(change({ day_temperature_c: c }), `Room ${degrees(c)} by day`)
        }
        help={
          <Help about="room temperature">
            The same box wants a bigger lamp in a cold room and a smaller one in a warm room. Try
            your coldest and your warmest day.
          </Help>
        }
      />
      <NumberField
        label="Room by night"
        dimension="temperature"
        value={d.room.night_temperature_c}
        min={-30}
        max={60}
        onPreview={(c) => edits.preview(change({ night_temperature_c: c }))}
        onCommit={(c) =>
          edits.commit(change({ night_temperature_c: c }), `Room ${degrees(c)} by night`)
        }
      />
      <NumberField
        label="Fog takes from light over 10 cm"
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
          <Help about="fog">
            While a fogger runs, light is lost on its way (Beer and Lambert). 0 without fog.
          </Help>
        }
      />
    </div>
  );
}
