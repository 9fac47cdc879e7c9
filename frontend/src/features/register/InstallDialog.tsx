import { useState } from "react";
import type { Catalog, InstalledLamp, InstalledLampStatus, PlanSummary } from "../../api/types";
import { isoDay } from "../../domain/logbook/days";
import { fixturesOf } from "../../domain/plan/document";
import { freshId } from "../../domain/readings/kinds";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { DayField } from "../../ui/fields";
import { Panel } from "../../ui/Panel";
import { SelectField } from "../../ui/SelectField";

export interface Place {
  readonly plan_id: string;
  readonly fixture_id: string;
}

export interface Hang {
  /** The lamp that is hung; one that is new is stored first. */
  readonly lamp: InstalledLamp;
  readonly fresh: boolean;
  readonly place: Place;
  readonly on: string;
  readonly old: "spare" | "retired";
}

interface InstallDialogProps {
  /** Replace what hangs in a place, or hang a lamp somewhere. */
  place: Place | null;
  lamp: InstalledLampStatus | null;
  lamps: readonly InstalledLampStatus[];
  plans: readonly PlanSummary[];
  catalog: Catalog;
  onInstall: (hang: Hang) => Promise<boolean>;
  onClose: () => void;
}

/** Kinds of lamp that hold mercury. */
const MERCURY: ReadonlySet<string> = new Set(["tube", "compact", "mercury vapour", "metal halide"]);
const placeKey = (p: Place) => `${p.plan_id}/${p.fixture_id}`;

/** Which lamp into which fixture, from which day, and what becomes of the one that hung there. */
export function InstallDialog(props: InstallDialogProps) {
  const { lamp, lamps, plans, catalog, onInstall, onClose } = props;
  const places = plans.flatMap((plan) =>
    fixturesOf(plan.document).map((f) => ({
      place: { plan_id: plan.id, fixture_id: f.id },
      label: f.label,
      plan,
      fixture: f,
    })),
  );
  const kindOf = (id: string) => catalog.lamps.find((l) => l.id === id)?.kind ?? "";
  const heldBy = (p: Place) =>
    lamps.find((u) =>
      u.installations.some(
        (h) => h.ended_on === null && h.plan_id === p.plan_id && h.fixture_id === p.fixture_id,
      ),
    );
  const here = props.place ?? places.find((p) => heldBy(p.place) !== lamp)?.place ?? null;
  const [key, setKey] = useState(here ? placeKey(here) : "");
  const target = places.find((p) => placeKey(p.place) === key);
  const spares = lamps.filter((u) => u.state === "spare");
  const like = spares.find((s) => s.installed_lamp.lamp_id === target?.fixture.lamp_id);
  const [chosen, setChosen] = useState(lamp?.installed_lamp.id ?? like?.installed_lamp.id ?? "new");
  const [on, setOn] = useState(isoDay());
  const [old, setOld] = useState<"spare" | "retired">("retired");
  const [busy, setBusy] = useState(false);
  const lampId = target?.fixture.lamp_id ?? "";
  const catalogLamp = catalog.lamps.find((l) => l.id === lampId);
  const leaves = target ? heldBy(target.place) : undefined;
  const hang = async () => {
    if (!target) return;
    const known = lamps.find((u) => u.installed_lamp.id === chosen);
    const fresh: InstalledLamp = {
      id: freshId(),
      label: target.label,
      lamp_id: lampId,
      power_w: target.fixture.power_w,
      installed_on: on,
      hours_before: 0,
      retired_on: null,
      note: "",
    };
    setBusy(true);
    const done = await onInstall({
      lamp: known?.installed_lamp ?? fresh,
      fresh: !known,
      place: target.place,
      on,
      old,
    });
    setBusy(false);
    if (done) onClose();
  };
  return (
    <Panel
      open
      onOpenChange={(open) => !open && onClose()}
      title={props.place ? `Replace: ${target?.label ?? ""}` : `Hang ${lamp?.installed_lamp.label}`}
      description="Plug out and let it cool first. Use only a lamp the fitting is rated for; wiring is for a qualified electrician."
    >
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          void hang();
        }}
      >
        {!props.place && (
          <SelectField
            label="Into"
            value={key}
            onChange={setKey}
            options={places.map((p) => ({
              value: placeKey(p.place),
              label: p.label,
              group: p.plan.name,
            }))}
          />
        )}
        {!lamp && (
          <SelectField
            label="The lamp that is hung"
            value={chosen}
            onChange={setChosen}
            options={[
              {
                value: "new",
                label: `A new one of the same kind: ${catalogLamp?.label ?? lampId}`,
              },
              ...spares.map((s) => ({
                value: s.installed_lamp.id,
                label: `${s.installed_lamp.label}, ${s.lamp_label}, ${Math.round(s.hours)} h`,
                group: "Spares",
              })),
            ]}
          />
        )}
        <DayField label="On" required value={on} onChange={(day) => day && setOn(day)} />
        {leaves && leaves !== lamp && (
          <div>
            <p className="text-sm text-soft">
              {leaves.installed_lamp.label}, which hangs there now, is
            </p>
            <Choice
              label="What becomes of the old lamp"
              value={old}
              onChange={setOld}
              options={[
                { value: "retired", label: "thrown away" },
                { value: "spare", label: "a spare" },
              ]}
            />
            {MERCURY.has(kindOf(leaves.installed_lamp.lamp_id)) && (
              <p className="mt-1 text-sm text-soft">
                Such lamps hold mercury: by local rule, not into the bin. If one breaks, air the
                room and collect the pieces without a vacuum cleaner.
              </p>
            )}
          </div>
        )}
        <div className="flex gap-2">
          <Button type="submit" tone="strong" disabled={!target || busy}>
            {busy ? "Installing…" : "Hang it"}
          </Button>
          <Button onClick={onClose}>Leave it</Button>
        </div>
      </form>
    </Panel>
  );
}
