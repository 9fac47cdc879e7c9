import { Plus, Trash2 } from "lucide-react";
import type { PlanDocument } from "../../api/types";
import {
  canAddLayer,
  groundLimit,
  type Layer,
  LEAST_LAYER_M,
  layersBelow,
  type Mix,
  mixWords,
  shallowestGround,
  topLayerDepth,
  withGroundDepth,
  withLayer,
  withLayerDepth,
  withMix,
  withNewLayer,
  withoutLayer,
} from "../../domain/plan/ground";
import { show, showVolume } from "../../domain/units/units";
import { Button, IconButton } from "../../ui/Button";
import { CheckField } from "../../ui/CheckField";
import { GRID } from "../../ui/grid";
import { Help } from "../../ui/Help";
import { NumberField } from "../../ui/NumberField";
import { usePreferences } from "../../ui/preferences";
import { SelectField } from "../../ui/SelectField";
import { BurrowsForm } from "./BurrowsForm";
import type { FormProps } from "./forms";
import { ZonesForm } from "./ZonesForm";

const MOST_PARTS = 8;

/** What covers the floor: layers from the top down, and parts that are damper or drier. */
export function SubstrateForm(props: FormProps) {
  const { document: d, catalog, edits } = props;
  const { units } = usePreferences();
  const below = layersBelow(d);
  const limit = groundLimit(edits.base());
  const least = shallowestGround(d);
  const floor = d.enclosure.length_m * d.enclosure.depth_m;
  const length = (m: number) => show(m, "length", units);
  return (
    <div>
      <div className={GRID}>
        <NumberField
          label={below.length > 0 ? "Depth of all layers" : "Depth"}
          dimension="length"
          value={d.substrate.depth_m}
          min={least}
          max={limit.depth}
          help={
            <Help about="depth">
              What stands on the ground rises and sinks with it: hides, slabs, water, branches with
              a foot on it, a probe that lies on it. It brings the animal nearer to the lamps.
              Deeper than {length(limit.depth)} it would meet {limit.meets}.
            </Help>
          }
          onPreview={(depth) => edits.preview(withGroundDepth(edits.base(), depth))}
          onCommit={(depth) =>
            edits.commit(withGroundDepth(edits.base(), depth), `Substrate ${length(depth)} deep`)
          }
        />
        <NumberField
          label="Wet as open water"
          dimension="share"
          value={d.substrate.wetness}
          min={0}
          max={1}
          help={
            <Help about="wet ground">
              How readily its surface gives off water: 0 % for dry ground, about 30 % for damp soil
              or coir, 70 % for wet moss. It cools the ground and moistens the air.
            </Help>
          }
          onPreview={(wetness) => edits.preview(withWetness(d, wetness))}
          onCommit={(wetness) =>
            edits.commit(
              withWetness(d, wetness),
              `Substrate ${show(wetness, "share", units)} as wet as water`,
            )
          }
        />
      </div>
      <h3 className="mt-4 flex items-center gap-1 font-semibold">
        {below.length > 0 ? "Layers, from the top down" : "What it is"}
        <Help about="layers">
          Drainage at the bottom takes up what is poured too much; a sheet on it lets water through
          and holds the soil back. Soil is mixed by parts of volume. How well each layer passes and
          stores heat is computed from its parts.
        </Help>
      </h3>
      <ol className="mt-1 grid gap-2">
        {[null, ...below].map((layer, place) => (
          <LayerCard
            key={place}
            {...props}
            place={place}
            layer={layer}
            litres={1000 * floor * (layer ? layer.depth_m : topLayerDepth(d))}
          />
        ))}
      </ol>
      <div className="mt-2 flex flex-wrap gap-2">
        <Button
          size="small"
          disabled={!canAddLayer(d)}
          onClick={() => edits.commit(withNewLayer(d, catalog), "A layer added to the ground")}
        >
          <Plus size={15} aria-hidden /> Add a layer below
        </Button>
      </div>
      {!canAddLayer(d) && (
        <p className="mt-1 text-sm text-soft">
          No room for another layer: deeper ground would meet {limit.meets}.
        </p>
      )}
      <ZonesForm {...props} />
      <BurrowsForm {...props} />
    </div>
  );
}

const withWetness = (d: PlanDocument, wetness: number): PlanDocument => ({
  ...d,
  substrate: { ...d.substrate, wetness },
});

interface LayerCardProps extends FormProps {
  /** 0 is the uppermost. */
  place: number;
  layer: Layer | null;
  litres: number;
}

function LayerCard({ document: d, catalog, edits, place, layer, litres }: LayerCardProps) {
  const { units } = usePreferences();
  const mix: Mix = layer ?? d.substrate;
  const mixed = mix.mixed ?? [];
  const alone = layersBelow(d).length === 0;
  const number = place + 1;
  const name = alone ? "the ground" : `layer ${number}`;
  const options = catalog.materials
    .filter((m) => m.uses.includes("substrate"))
    .map((m) => ({ value: m.id, label: m.label }));
  const put = (next: Mix) =>
    edits.commit(withMix(d, place, next), `Ground: ${mixWords(next, catalog)}`);
  const base = edits.base();
  const own = layer?.depth_m ?? topLayerDepth(d);
  const was = layersBelow(base)[place - 1]?.depth_m ?? topLayerDepth(base);
  const room = groundLimit(base).depth - base.substrate.depth_m;
  const depth = (m: number) => withLayerDepth(base, place, m);
  return (
    <li
      aria-label={alone ? "The ground" : `Layer ${number}`}
      data-testid={`layer-${place}`}
      className="rounded-lg border border-line p-2.5"
    >
      <div className={GRID}>
        <SelectField
          label={mixed.length > 0 ? "Material 1" : "Material"}
          value={mix.material_id}
          options={options}
          onChange={(material_id) => put({ ...plain(mix), material_id })}
        />
        {mixed.length > 0 && (
          <NumberField
            label="Parts of material 1"
            dimension="parts"
            value={mix.parts}
            min={0.1}
            max={100}
            onCommit={(parts) => put({ ...plain(mix), parts })}
          />
        )}
      </div>
      {mixed.map((part, i) => {
        const change = (next: Partial<typeof part>) =>
          put({ ...plain(mix), mixed: mixed.map((m, j) => (j === i ? { ...m, ...next } : m)) });
        return (
          <div key={i} className="mt-2 grid grid-cols-[minmax(0,1fr)_7.5rem_auto] items-end gap-2">
            <SelectField
              label={`Material ${i + 2}`}
              value={part.material_id}
              options={options}
              onChange={(material_id) => change({ material_id })}
            />
            <NumberField
              label={`Parts of material ${i + 2}`}
              dimension="parts"
              value={part.parts}
              min={0.1}
              max={100}
              onCommit={(parts) => change({ parts })}
            />
            <IconButton
              label={`Take material ${i + 2} out of the mix of ${name}`}
              onClick={() => put({ ...plain(mix), mixed: mixed.filter((_, j) => j !== i) })}
            >
              <Trash2 size={16} aria-hidden />
            </IconButton>
          </div>
        );
      })}
      {!alone && (
        <div className={`mt-2 ${GRID}`}>
          <NumberField
            label={`Depth of layer ${number}`}
            dimension="length"
            value={own}
            min={LEAST_LAYER_M}
            max={Math.max(own, was + room)}
            onPreview={(m) => edits.preview(depth(m))}
            onCommit={(m) =>
              edits.commit(depth(m), `Layer ${number} ${show(m, "length", units)} deep`)
            }
          />
          {layer && (
            <NumberField
              label={`Wetness of layer ${number}`}
              dimension="share"
              value={layer.wetness ?? d.substrate.wetness}
              min={0}
              max={1}
              help={
                <Help about="a damp layer">
                  Ground is often kept dry on top and damp below. It counts in burrows, whose walls
                  give off water; the surface has its own figure.
                </Help>
              }
              onCommit={(wetness) =>
                edits.commit(
                  withLayer(d, place, { wetness }),
                  `Layer ${number} ${show(wetness, "share", units)} as wet as water`,
                )
              }
            />
          )}
          {layer && (
            <CheckField
              label="A sheet lies on it"
              checked={layer.barrier}
              help={
                <Help about="the sheet">
                  A fine mesh or root fleece: water passes, soil does not. Its size with an overlap
                  is under “To build”.
                </Help>
              }
              onChange={(barrier) =>
                edits.commit(
                  withLayer(d, place, { barrier }),
                  barrier ? `A sheet on layer ${number}` : `No sheet on layer ${number}`,
                )
              }
            />
          )}
        </div>
      )}
      <div className="mt-2 flex flex-wrap items-center gap-2 text-sm text-soft">
        <span className="mr-auto">
          {showVolume(litres, units)} in place{mixed.length > 0 && `, ${mixWords(mix, catalog)}`}
        </span>
        {mixed.length < MOST_PARTS - 1 && (
          <Button
            size="small"
            onClick={() => {
              const used = new Set([mix.material_id, ...mixed.map((m) => m.material_id)]);
              const next = options.find((o) => !used.has(o.value)) ?? options[0];
              if (next)
                put({ ...plain(mix), mixed: [...mixed, { material_id: next.value, parts: 1 }] });
            }}
          >
            <Plus size={15} aria-hidden /> Mix something in
          </Button>
        )}
        {!alone && (
          <Button
            size="small"
            onClick={() =>
              edits.commit(withoutLayer(d, place), `Layer ${number} taken out of the ground`)
            }
          >
            <Trash2 size={15} aria-hidden /> Remove layer {number}
          </Button>
        )}
      </div>
    </li>
  );
}

const plain = ({ material_id, parts, mixed }: Mix): Mix => ({ material_id, parts, mixed });
