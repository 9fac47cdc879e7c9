import { Lock } from "lucide-react";
import type { Furnishing, Hide, PlanDocument } from "../../api/types";
import { furnishingsOf } from "../../domain/plan/document";
import {
  fitted,
  furnishingKey,
  isPlaced,
  movedTo,
  placeOf,
  withBasking,
  withFurnishing,
} from "../../domain/plan/furnishings";
import { furnishingActions } from "../../domain/plan/itemActions";
import { show } from "../../domain/units/units";
import { CheckField } from "../../ui/CheckField";
import { GRID } from "../../ui/grid";
import { Help } from "../../ui/Help";
import { NumberField } from "../../ui/NumberField";
import { NumberFields } from "../../ui/NumberFields";
import { usePreferences } from "../../ui/preferences";
import { SelectField } from "../../ui/SelectField";
import { TextField } from "../../ui/TextField";
import { ActionButtons } from "./ActionButtons";
import { Caution, type FormProps } from "./forms";

interface FurnishingsProps extends FormProps {
  selected: string;
  onSelect: (key: string) => void;
}

/** All furnishings to choose from, and everything about the chosen one. */
export function FurnishingsForm(props: FurnishingsProps) {
  const { document: d, selected, onSelect } = props;
  const items = furnishingsOf(d);
  const item = items.find((f) => furnishingKey(f.id) === selected) ?? null;
  if (items.length === 0) {
    return (
      <p className="text-soft">
        This enclosure has no furnishings yet. A basking slab, a hide at each end and water are the
        usual start: choose them from “Add” over the drawing.
      </p>
    );
  }
  return (
    <div>
      <fieldset className="mb-3 flex flex-wrap gap-1.5">
        <legend className="sr-only">Furnishings of this enclosure</legend>
        {items.map((f) => (
          <button
            key={f.id}
            type="button"
            aria-pressed={f === item}
            onClick={() => onSelect(furnishingKey(f.id))}
            className="inline-flex min-h-8 items-center gap-1 rounded-full border border-edge bg-raised px-3 text-sm font-medium hover:bg-wash aria-pressed:border-accent aria-pressed:bg-wash aria-pressed:text-accent"
          >
            {f.locked && <Lock size={13} aria-label="locked" />}
            {f.label}
          </button>
        ))}
      </fieldset>
      {item ? (
        <OneFurnishingForm key={item.id} {...props} item={item} />
      ) : (
        <p className="text-soft">Choose one here or in the drawing.</p>
      )}
    </div>
  );
}

type Part<T extends Furnishing["type"]> = Extract<Furnishing, { type: T }>;

function OneFurnishingForm({
  document: d,
  catalog,
  edits,
  item,
  onSelect,
}: FurnishingsProps & { item: Furnishing }) {
  const { units } = usePreferences();
  const length = (m: number) => show(m, "length", units);
  const put = (changed: Furnishing, what: string) =>
    edits.commit(withFurnishing(d, fitted(changed)), `${item.label}: ${what}`);
  const preview = (changed: Furnishing) => edits.preview(withFurnishing(d, fitted(changed)));
  const material = catalog.materials.find((m) => m.id === item.material_id);
  return (
    <div>
      <div className={GRID}>
        <TextField
          label="Name"
          value={item.label}
          most={80}
          onCommit={(label) => put({ ...item, label }, `named ${label}`)}
        />
        <SelectField
          label="Material"
          value={item.material_id}
          options={catalog.materials
            .filter((m) => m.uses.includes("furnishing") || m.id === item.material_id)
            .map((m) => ({ value: m.id, label: m.label }))}
          help={
            <Help about="the material">
              {material?.label} takes up {Math.round(100 * (material?.absorptance ?? 0))} % of the
              light and heat that falls on it. Stone and tile hold heat and spread it, wood does
              not.
            </Help>
          }
          onChange={(material_id) =>
            put(
              { ...item, material_id },
              catalog.materials.find((m) => m.id === material_id)?.label ?? material_id,
            )
          }
        />
        {isPlaced(item) && <PlaceFields d={d} item={item} preview={preview} put={put} />}
        {item.type === "background" ? (
          <BackgroundFields item={item} put={put} />
        ) : item.type === "branch" ? (
          <BranchFields d={d} item={item} put={put} preview={preview} />
        ) : (
          <SizeFields d={d} item={item} put={put} preview={preview} />
        )}
        {item.type === "hide" && <HideFields item={item} put={put} />}
        {item.type === "slab" && (
          <>
            <CheckField
              label="This is a basking spot"
              checked={item.basking ?? false}
              onChange={(on) =>
                edits.commit(
                  withBasking(d, item.id, on),
                  on ? `${item.label} is a basking spot` : `${item.label} is no basking spot`,
                )
              }
            />
            {item.underside_m > 0 && (
              <CheckField
                label="On a pile of the same"
                checked={item.stack != null}
                help={
                  <Help about="the pile">
                    A pile under the slab carries it, holds heat, and leaves less shade below.
                  </Help>
                }
                onChange={(on) =>
                  put(
                    {
                      ...item,
                      stack: on
                        ? { length_m: 0.6 * item.length_m, width_m: 0.6 * item.width_m }
                        : null,
                    },
                    on ? "on a pile" : "without a pile",
                  )
                }
              />
            )}
          </>
        )}
        {item.type === "leaves" && (
          <NumberField
            label="Light that gets through"
            dimension="share"
            value={item.porosity}
            min={0}
            max={0.99}
            onPreview={(porosity) => preview({ ...item, porosity })}
            onCommit={(porosity) =>
              put({ ...item, porosity }, `${Math.round(100 * porosity)} % gets through`)
            }
          />
        )}
      </div>
      {item.type === "slab" && item.underside_m > 0.1 && item.stack == null && (
        <Caution>
          A slab above the ground must be carried so that it cannot slip or tip, on the enclosure or
          on its legs and not on loose substrate: animals dig under it and are crushed.
        </Caution>
      )}
      {item.type === "water" && (
        <Caution>
          Keep cables, sockets and lamps where no water can run or splash on them, and have a
          residual-current device in the supply.
        </Caution>
      )}
      <div className="mt-4">
        <ActionButtons
          actions={furnishingActions(d, item)}
          edits={edits}
          onSelect={onSelect}
          remove="Remove"
        />
      </div>
      {isPlaced(item) && (
        <p className="mt-2 text-sm text-soft">
          Middle at {length(placeOf(d, item).x)} from the left, {length(placeOf(d, item).y)} from
          the front. In the drawing: arrow keys move it by 1 cm, with Shift by 5; R turns, L locks,
          Ctrl D duplicates, Delete removes.
        </p>
      )}
    </div>
  );
}

interface FieldsProps<T extends Furnishing> {
  item: T;
  put: (changed: Furnishing, what: string) => void;
}

interface PlacedProps<T extends Furnishing> extends FieldsProps<T> {
  d: PlanDocument;
  preview: (changed: Furnishing) => void;
}

/** Where its middle is, and how high it stands; what rests on the ground has no height to set. */
function PlaceFields({ d, item, preview, put }: PlacedProps<Furnishing>) {
  const { units } = usePreferences();
  const at = placeOf(d, item);
  const rises = item.type === "slab" || item.type === "leaves" || item.type === "branch";
  const lowest = movedTo(d, item, { x: -9, y: -9, z: -9 });
  const highest = movedTo(d, item, { x: 9, y: 9, z: 9 });
  const [low, high] = [placeOf(d, lowest), placeOf(d, highest)];
  const fields = [
    { axis: "x", label: "Middle, from the left", from: "from the left" },
    { axis: "y", label: "Middle, from the front", from: "from the front" },
    ...(rises
      ? [
          {
            axis: "z",
            label:
              item.type === "branch"
                ? "Middle, above the enclosure floor"
                : "Underside, above the enclosure floor",
            from: "above the floor",
          } as const,
        ]
      : []),
  ] as const;
  return (
    <>
      {fields.map(({ axis, label, from }) => (
        <NumberField
          key={axis}
          label={label}
          dimension="length"
          value={at[axis]}
          min={low[axis]}
          max={high[axis]}
          disabled={item.locked}
          onPreview={(m) => preview(movedTo(d, item, { ...at, [axis]: m }))}
          onCommit={(m) =>
            put(movedTo(d, item, { ...at, [axis]: m }), `${show(m, "length", units)} ${from}`)
          }
        />
      ))}
    </>
  );
}

type Rectangular = Part<"slab"> | Part<"hide"> | Part<"leaves"> | Part<"water">;

/** Its sizes; it stays where its middle is, moved in from a wall if it must. */
function SizeFields({ d, item, preview, put }: PlacedProps<Rectangular>) {
  const { units } = usePreferences();
  const clear = d.enclosure.height_m - d.substrate.depth_m;
  const above = item.type === "slab" || item.type === "leaves" ? clear - item.underside_m : clear;
  const tall =
    item.type === "slab"
      ? { key: "thickness_m", label: "Thickness", least: 0.003, most: Math.min(0.3, above) }
      : item.type === "water"
        ? { key: "depth_m", label: "Depth of the water", least: 0.002, most: Math.min(1, above) }
        : { key: "height_m", label: "Height", least: 0.01, most: above };
  const sizes = [
    { key: "length_m", label: "Length, left to right", least: 0.01, most: d.enclosure.length_m },
    { key: "width_m", label: "Depth, front to back", least: 0.01, most: d.enclosure.depth_m },
    tall,
  ];
  const values = item as unknown as Record<string, number>;
  const sized = (key: string, m: number) => {
    const changed = { ...item, [key]: m } as Furnishing;
    return movedTo(d, changed, placeOf(d, item));
  };
  return (
    <>
      {sizes.map(({ key, label, least, most }) => (
        <NumberField
          key={key}
          label={label}
          dimension="length"
          value={values[key] ?? least}
          min={least}
          max={Math.max(least, most)}
          onPreview={(m) => preview(sized(key, m))}
          onCommit={(m) =>
            put(sized(key, m), `${label.split(",")[0]?.toLowerCase()} ${show(m, "length", units)}`)
          }
        />
      ))}
    </>
  );
}

function BranchFields({ d, item, put, preview }: PlacedProps<Part<"branch">>) {
  const { units } = usePreferences();
  const ends = [
    { key: "start_m", name: "One end" },
    { key: "end_m", name: "Other end" },
  ] as const;
  const axes = [
    { axis: "x_m", says: "from the left", least: 0, most: d.enclosure.length_m },
    { axis: "y_m", says: "from the front", least: 0, most: d.enclosure.depth_m },
    {
      axis: "z_m",
      says: "above the floor",
      least: d.substrate.depth_m,
      most: d.enclosure.height_m,
    },
  ] as const;
  return (
    <>
      <NumberField
        label="Thickness"
        dimension="length"
        value={item.diameter_m}
        min={0.003}
        max={0.4}
        onPreview={(diameter_m) => preview({ ...item, diameter_m })}
        onCommit={(m) => put({ ...item, diameter_m: m }, `${show(m, "length", units)} thick`)}
        help={
          <Help about="perches">
            A perch a climber rests on is about as thick as its body: thinner ones bend its feet,
            much thicker ones it cannot grip.
          </Help>
        }
      />
      {ends.flatMap(({ key, name }) =>
        axes.map(({ axis, says, least, most }) => (
          <NumberField
            key={`${key}${axis}`}
            label={`${name}, ${says}`}
            dimension="length"
            value={item[key][axis]}
            min={least}
            max={most}
            disabled={item.locked}
            onCommit={(m) =>
              put(
                { ...item, [key]: { ...item[key], [axis]: m } },
                `${name.toLowerCase()} ${show(m, "length", units)} ${says}`,
              )
            }
          />
        )),
      )}
    </>
  );
}

const SIDES = [
  { value: "front", label: "Front" },
  { value: "back", label: "Back" },
  { value: "left", label: "Left" },
  { value: "right", label: "Right" },
] as const;

function BackgroundFields({ item, put }: FieldsProps<Part<"background">>) {
  const { units } = usePreferences();
  return (
    <>
      <SelectField
        label="Side it lines"
        value={item.side}
        options={SIDES}
        onChange={(side) => put({ ...item, side: side as Hide["opening"] }, `lines the ${side}`)}
      />
      <NumberField
        label="Thickness"
        dimension="length"
        value={item.thickness_m}
        min={0.001}
        max={0.3}
        onCommit={(m) => put({ ...item, thickness_m: m }, `${show(m, "length", units)} thick`)}
      />
    </>
  );
}

function HideFields({ item, put }: FieldsProps<Part<"hide">>) {
  const side = item.opening === "left" || item.opening === "right" ? item.width_m : item.length_m;
  return (
    <>
      <SelectField
        label="Opening to the"
        value={item.opening}
        options={SIDES.map((s) => ({ value: s.value, label: s.label.toLowerCase() }))}
        onChange={(opening) =>
          put({ ...item, opening: opening as Hide["opening"] }, `opens to the ${opening}`)
        }
      />
      <NumberFields
        rows={[
          {
            key: "opening_width_m",
            label: "Opening, wide",
            dimension: "length",
            min: 0.005,
            max: side,
            summary: (shown) => `opening ${shown} wide`,
          },
          {
            key: "opening_height_m",
            label: "Opening, high",
            dimension: "length",
            min: 0.005,
            max: Math.max(0.005, item.height_m - item.wall_m),
            summary: (shown) => `opening ${shown} high`,
          },
        ]}
        of={item}
        onCommit={(part, summary) => put({ ...item, ...part }, summary)}
      />
      <CheckField
        label="Damp inside"
        checked={item.moist ?? false}
        onChange={(moist) => put({ ...item, moist }, moist ? "damp" : "dry")}
        help={
          <Help about="moist hides">
            Damp moss or fibre inside lets the animal shed; renew it before it goes mouldy.
          </Help>
        }
      />
    </>
  );
}
