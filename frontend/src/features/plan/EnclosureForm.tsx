import { Plus, Trash2 } from "lucide-react";
import { useEffect, useState } from "react";
import type { ColdPack, Fan, PlanDocument, Wall } from "../../api/types";
import { fixed, show } from "../../domain/units/units";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { GRID } from "../../ui/grid";
import { Help } from "../../ui/Help";
import { NumberField } from "../../ui/NumberField";
import { NumberFields, type NumberRow } from "../../ui/NumberFields";
import { usePreferences } from "../../ui/preferences";
import { SelectField } from "../../ui/SelectField";
import { BeyondFields } from "./BeyondFields";
import { FaceParts } from "./FaceParts";
import { Caution, type FormProps } from "./forms";
import { WallFields } from "./WallFields";

export type Face = keyof PlanDocument["enclosure"]["walls"];

const FACES: readonly { value: Face; label: string; name: string }[] = [
  { value: "front", label: "Front", name: "Front" },
  { value: "back", label: "Back", name: "Back" },
  { value: "left", label: "Left", name: "Left side" },
  { value: "right", label: "Right", name: "Right side" },
  { value: "floor", label: "Floor", name: "Floor" },
];

/** Walls one by one, what is beyond them, and what cools the enclosure. */
export function EnclosureForm(props: FormProps & { open?: Face | undefined }) {
  const { document: d, edits, open } = props;
  const [face, setFace] = useState<Face>(open ?? "back");
  useEffect(() => {
    if (open) setFace(open);
  }, [open]);
  const name = FACES.find((f) => f.value === face)?.name ?? face;
  const wall = d.enclosure.walls[face];
  const put = (next: Wall, summary: string) =>
    edits.commit(
      { ...d, enclosure: { ...d.enclosure, walls: { ...d.enclosure.walls, [face]: next } } },
      `${name}: ${summary}`,
    );
  return (
    <div>
      <Choice label="Wall" value={face} onChange={setFace} options={FACES} />
      <div className={`${GRID} mt-3`}>
        <WallFields {...props} wall={wall} name={name} onChange={put} />
        {wall.kind === "solid" && <Insulation {...props} wall={wall} onChange={put} />}
        <BeyondFields key={face} {...props} face={face} name={name} />
      </div>
      {face !== "floor" && face !== "top" && (
        <FaceParts key={face} {...props} face={face} name={name.toLowerCase()} />
      )}
      <Cooling {...props} />
      <Caution>
        Doors and lids lock; a fan's grille must keep tails and feet out. Frozen packs drip: never
        above lamps, sockets or heaters.
      </Caution>
    </div>
  );
}

interface InsulationProps extends FormProps {
  wall: Extract<Wall, { kind: "solid" }>;
  onChange: (wall: Wall, summary: string) => void;
}

function Insulation({ catalog, wall, onChange }: InsulationProps) {
  const { units } = usePreferences();
  return (
    <>
      <SelectField
        label="Insulated outside with"
        value={wall.insulation_id ?? ""}
        options={[
          { value: "", label: "Nothing" },
          ...catalog.materials
            .filter((m) => m.uses.includes("wall") && m.conductivity_w_mk < 0.2)
            .map((m) => ({ value: m.id, label: m.label })),
        ]}
        onChange={(id) =>
          onChange(
            {
              ...wall,
              insulation_id: id || null,
              insulation_m: id ? wall.insulation_m || 0.02 : 0,
            },
            catalog.materials.find((m) => m.id === id)?.label ?? "no insulation",
          )
        }
      />
      {wall.insulation_id && (
        <NumberField
          label="Insulation"
          dimension="length"
          value={wall.insulation_m}
          min={0}
          max={0.3}
          onCommit={(m) =>
            onChange({ ...wall, insulation_m: m }, `insulation ${show(m, "length", units)}`)
          }
        />
      )}
    </>
  );
}

const packRows = (pack: ColdPack): readonly NumberRow<ColdPack>[] => [
  {
    key: "power_w",
    label: `${pack.label} takes`,
    dimension: "power",
    min: 1,
    max: 500,
    summary: (shown) => `takes ${shown}`,
    help: (
      <Help about="frozen packs">
        A litre of ice takes about 93 Wh to melt: 15 W for six hours.
      </Help>
    ),
  },
  {
    key: "start_hour",
    label: "put in at",
    dimension: "duration",
    min: 0,
    max: 24,
    summary: (shown) => `put in at ${shown}`,
  },
  {
    key: "hours",
    label: "lasts",
    dimension: "duration",
    min: 0.5,
    max: 24,
    summary: (shown) => `lasts ${shown}`,
  },
];

function unused(prefix: string, taken: readonly { id: string }[]): string {
  let number = 1;
  while (taken.some((t) => t.id === `${prefix}-${number}`)) number++;
  return `${prefix}-${number}`;
}

/** Fans and frozen packs. */
function Cooling({ document: d, edits }: FormProps) {
  const fans = d.fans ?? [];
  const packs = d.cold_packs ?? [];
  const putFans = (next: Fan[], summary: string) => edits.commit({ ...d, fans: next }, summary);
  const putPacks = (next: ColdPack[], summary: string) =>
    edits.commit({ ...d, cold_packs: next }, summary);
  return (
    <div className="mt-4 border-t border-line pt-3">
      <h3 className="font-semibold">Cooling</h3>
      {fans.map((fan) => {
        const put = (change: Partial<Fan>, summary: string) =>
          putFans(
            fans.map((f) => (f.id === fan.id ? { ...f, ...change } : f)),
            `${fan.label}: ${summary}`,
          );
        return (
          <div key={fan.id} className={`${GRID} mt-2`}>
            <NumberField
              label={`${fan.label}, air an hour`}
              dimension="airflow"
              value={fan.flow_m3_h}
              min={0.5}
              max={500}
              onCommit={(flow_m3_h) => put({ flow_m3_h }, `${fixed(flow_m3_h, 1)} m³ an hour`)}
            />
            <SelectField
              label="Runs"
              value={fan.lit}
              options={[
                { value: "day", label: "With the day" },
                { value: "night", label: "By night" },
                { value: "always", label: "Day and night" },
              ]}
              onChange={(lit) => put({ lit: lit as Fan["lit"] }, `runs ${lit}`)}
            />
            <Remove
              what={fan.label}
              onClick={() =>
                putFans(
                  fans.filter((f) => f.id !== fan.id),
                  `${fan.label} removed`,
                )
              }
            />
          </div>
        );
      })}
      {packs.map((pack) => {
        const put = (change: Partial<ColdPack>, summary: string) =>
          putPacks(
            packs.map((p) => (p.id === pack.id ? { ...p, ...change } : p)),
            `${pack.label}: ${summary}`,
          );
        return (
          <div key={pack.id} className={`${GRID} mt-2`}>
            <NumberFields rows={packRows(pack)} of={pack} onCommit={put} />
            <div className="flex items-end gap-3">
              <Remove
                what={pack.label}
                onClick={() =>
                  putPacks(
                    packs.filter((p) => p.id !== pack.id),
                    `${pack.label} removed`,
                  )
                }
              />
            </div>
          </div>
        );
      })}
      <div className="mt-2 flex flex-wrap gap-2">
        {fans.length < 4 && (
          <Button
            size="small"
            onClick={() =>
              putFans(
                [
                  ...fans,
                  {
                    id: unused("fan", fans),
                    label: `Fan ${fans.length + 1}`,
                    flow_m3_h: 10,
                    lit: "day",
                  },
                ],
                "Fan added",
              )
            }
          >
            <Plus size={15} aria-hidden />A fan
          </Button>
        )}
        {packs.length < 4 && (
          <Button
            size="small"
            onClick={() =>
              putPacks(
                [
                  ...packs,
                  {
                    id: unused("pack", packs),
                    label: `Frozen pack ${packs.length + 1}`,
                    x_m: d.enclosure.length_m / 2,
                    z_m: d.enclosure.height_m * 0.8,
                    power_w: 15,
                    start_hour: 11,
                    hours: 6,
                  },
                ],
                "Frozen pack added",
              )
            }
          >
            <Plus size={15} aria-hidden />A frozen pack
          </Button>
        )}
      </div>
    </div>
  );
}

function Remove({ what, onClick }: { what: string; onClick: () => void }) {
  return (
    <div className="self-end">
      <Button size="small" aria-label={`Remove ${what}`} onClick={onClick}>
        <Trash2 size={15} aria-hidden />
        Remove
      </Button>
    </div>
  );
}
