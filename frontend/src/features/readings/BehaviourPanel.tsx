import { useQuery } from "@tanstack/react-query";
import { Trash2 } from "lucide-react";
import { type PointerEvent, useState } from "react";
import { fetchBehaviour, putSighting, removeSighting } from "../../api/readings";
import type { Catalog, PlanDocument, Sighting } from "../../api/types";
import { useNotify } from "../../app/notices";
import { useQueuedMutation } from "../../app/useQueuedMutation";
import { headroom, projection } from "../../canvas/projection";
import { Contents } from "../../canvas/Thumbnail";
import { freshId, momentNow } from "../../domain/readings/kinds";
import { fixed, show } from "../../domain/units/units";
import { Button, IconButton } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";
import { usePreferences } from "../../ui/preferences";
import { SelectField } from "../../ui/SelectField";

interface BehaviourPanelProps {
  planId: string;
  document: PlanDocument;
  catalog: Catalog;
}

const KIND: Record<Sighting["kind"], string> = {
  seat: "It sits",
  basking: "Minutes basking in the hour",
  hidden: "Hidden, not to be seen",
  gaping: "It gapes",
};
const SHOWN = 12;

/** What the animal does, beside the climate predicted for that hour: a hint, never a diagnosis. */
export function BehaviourPanel({ planId, document, catalog }: BehaviourPanelProps) {
  const { units } = usePreferences();
  const notify = useNotify();
  const behaviour = useQuery({
    queryKey: ["behaviour", planId],
    queryFn: () => fetchBehaviour(planId),
    staleTime: 0,
  });
  const runQueued = useQueuedMutation(["behaviour"]);
  const remove = async (sighting: Sighting) => {
    if (!(await runQueued(() => removeSighting(sighting.id)))) return;
    notify({
      title: "Sighting deleted",
      tone: "plain",
      action: {
        label: "Put it back",
        run: () => void runQueued(() => putSighting(planId, sighting)),
      },
    });
  };
  const { seen, hints } = behaviour.data ?? { seen: [], hints: [] };
  return (
    <section
      aria-label="Behaviour"
      className="rounded-xl border border-line bg-panel p-4"
      data-testid="behaviour"
    >
      <h2 className="text-lg font-semibold">What the animal does</h2>
      <p className="text-sm text-soft">
        Look at the same hours every day. Where the animal sits tells you as much as a thermometer.
      </p>
      {hints.map((hint) => (
        <p
          key={hint.id}
          data-testid={`hint-${hint.id}`}
          className="mt-2 border-l-4 border-accent bg-wash px-3 py-1.5 text-sm"
        >
          {hint.text}{" "}
          {hint.id !== "too_few" && hint.id !== "moves" && (
            <span className="text-soft">A hint, not a diagnosis.</span>
          )}
        </p>
      ))}
      <Enter
        document={document}
        catalog={catalog}
        onPut={(sighting) => runQueued(() => putSighting(planId, sighting))}
      />
      <ul className="mt-2 divide-y divide-line text-sm">
        {[...seen]
          .reverse()
          .slice(0, SHOWN)
          .map(({ sighting, place_label, air_c, surface_c, uvi }) => (
            <li key={sighting.id} className="flex items-start gap-2 py-1.5">
              <span className="min-w-0 flex-1">
                <strong>
                  {sighting.kind === "basking"
                    ? `Basking for ${fixed(sighting.minutes ?? 0, 0)} min of the hour`
                    : sighting.kind === "seat"
                      ? `Sits: ${place_label ?? "away from every place"}`
                      : KIND[sighting.kind]}
                </strong>
                ,{" "}
                {new Date(sighting.at).toLocaleString([], {
                  dateStyle: "medium",
                  timeStyle: "short",
                })}
                {air_c !== null && (
                  <span className="block text-soft">
                    Predicted there at that hour: air {show(air_c, "temperature", units, 1)}
                    {surface_c !== null && `, surface ${show(surface_c, "temperature", units, 1)}`}
                    {uvi !== null && `, UV index ${fixed(uvi, 1)}`}
                  </span>
                )}
                {sighting.note && <span className="block text-soft">“{sighting.note}”</span>}
              </span>
              <IconButton label="Delete this sighting" onClick={() => void remove(sighting)}>
                <Trash2 size={16} aria-hidden />
              </IconButton>
            </li>
          ))}
      </ul>
    </section>
  );
}

interface EnterProps {
  document: PlanDocument;
  catalog: Catalog;
  onPut: (sighting: Sighting) => Promise<boolean>;
}

function Enter({ document, catalog, onPut }: EnterProps) {
  const [kind, setKind] = useState<Sighting["kind"]>("seat");
  const [minutes, setMinutes] = useState(20);
  const save = (more: Partial<Sighting>) =>
    onPut({ id: freshId(), kind, at: momentNow(), minutes: null, at_m: null, note: "", ...more });
  return (
    <div className="mt-2 space-y-2">
      <div className="flex flex-wrap items-end gap-3">
        <SelectField
          label="Seen just now"
          value={kind}
          onChange={(k) => setKind(k as Sighting["kind"])}
          options={Object.entries(KIND).map(([value, label]) => ({ value, label }))}
        />
        {kind === "basking" && (
          <NumberField
            label="Minutes of the last hour"
            value={minutes}
            dimension="count"
            min={0}
            max={60}
            onCommit={setMinutes}
          />
        )}
        {kind !== "seat" && (
          <Button tone="strong" onClick={() => void save(kind === "basking" ? { minutes } : {})}>
            Note it
          </Button>
        )}
      </div>
      {kind === "seat" && (
        <Tap document={document} catalog={catalog} onTap={(at_m) => void save({ at_m })} />
      )}
    </div>
  );
}

interface TapProps {
  document: PlanDocument;
  catalog: Catalog;
  onTap: (at: NonNullable<Sighting["at_m"]>) => void;
}

/** The enclosure from the front, to tap on where the animal sits; named places do it by keyboard. */
function Tap({ document, catalog, onTap }: TapProps) {
  const tall = document.enclosure.height_m > document.enclosure.length_m;
  const p = projection(document.enclosure, headroom(document), 400, tall ? 340 : 230);
  const { enclosure, substrate } = document;
  const slab = document.furnishings?.find((f) => f.type === "slab" && f.basking);
  const clamp = (v: number, low: number, high: number) => Math.min(high, Math.max(low, v));
  const at = (x: number, z: number, y = enclosure.depth_m / 2) => ({
    x_m: clamp(x, 0, enclosure.length_m),
    y_m: y,
    z_m: clamp(z, substrate.depth_m, enclosure.height_m),
  });
  const tap = (event: PointerEvent<SVGSVGElement>) => {
    const frame = event.currentTarget.getBoundingClientRect();
    const scale = 400 / frame.width;
    onTap(
      at(p.toX((event.clientX - frame.left) * scale), p.toZ((event.clientY - frame.top) * scale)),
    );
  };
  const named = [
    ...(slab?.type === "slab"
      ? [
          {
            label: "On the basking spot",
            at: at(
              slab.x_m,
              substrate.depth_m + slab.underside_m + slab.thickness_m + 0.02,
              slab.y_m,
            ),
          },
        ]
      : []),
    ...(document.furnishings ?? []).flatMap((f) =>
      f.type === "hide"
        ? [{ label: `In: ${f.label}`, at: at(f.x_m, substrate.depth_m + 0.03, f.y_m) }]
        : [],
    ),
    { label: "Left end", at: at(enclosure.length_m * 0.125, substrate.depth_m + 0.05) },
    { label: "Right end", at: at(enclosure.length_m * 0.875, substrate.depth_m + 0.05) },
  ];
  return (
    <div>
      <svg
        viewBox={`0 0 400 ${p.height}`}
        className="block w-full max-w-xl cursor-crosshair touch-manipulation rounded-md bg-air"
        role="img"
        aria-label="The enclosure from the front: tap where it sits"
        data-testid="tap"
        onPointerUp={tap}
      >
        <Contents document={document} catalog={catalog} p={p} />
      </svg>
      <p className="mt-1 text-sm text-soft">Tap where it sits, or:</p>
      <div className="mt-1 flex flex-wrap gap-1.5">
        {named.map((place) => (
          <Button key={place.label} size="small" onClick={() => onTap(place.at)}>
            {place.label}
          </Button>
        ))}
      </div>
    </div>
  );
}
