import { useState } from "react";
import type { Catalog, KnownUnit, LampUnit, PlanSummary } from "../../api/types";
import { isoDay } from "../../logbook/days";
import { fixturesOf } from "../../plan/document";
import { freshId } from "../../readings/kinds";
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
  readonly unit: LampUnit;
  readonly fresh: boolean;
  readonly place: Place;
  readonly on: string;
  readonly old: "spare" | "retired";
}

interface HangDialogProps {
  /** Replace what hangs in a place, or hang a lamp somewhere. */
  place: Place | null;
  unit: KnownUnit | null;
  units: readonly KnownUnit[];
  plans: readonly PlanSummary[];
  catalog: Catalog;
  onHang: (hang: Hang) => Promise<boolean>;
  onClose: () => void;
}

/** Kinds of lamp that hold mercury. */
const MERCURY: ReadonlySet<string> = new Set(["tube", "compact", "mercury vapour", "metal halide"]);
const placeKey = (p: Place) => `${p.plan_id}/${p.fixture_id}`;

/** Which lamp into which fixture, from which day, and what becomes of the one that hung there. */
export function HangDialog(props: HangDialogProps) {
  const { unit, units, plans, catalog, onHang, onClose } = props;
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
    units.find((u) =>
      u.hangings.some(
        (h) => h.ended_on === null && h.plan_id === p.plan_id && h.fixture_id === p.fixture_id,
      ),
    );
  const here = props.place ?? places.find((p) => heldBy(p.place) !== unit)?.place ?? null;
  const [key, setKey] = useState(here ? placeKey(here) : "");
  const target = places.find((p) => placeKey(p.place) === key);
  const spares = units.filter((u) => u.state === "spare");
  const like = spares.find((s) => s.unit.lamp_id === target?.fixture.lamp_id);
  const [chosen, setChosen] = useState(unit?.unit.id ?? like?.unit.id ?? "new");
  const [on, setOn] = useState(isoDay());
  const [old, setOld] = useState<"spare" | "retired">("retired");
  const [busy, setBusy] = useState(false);
  const lampId = target?.fixture.lamp_id ?? "";
  const lamp = catalog.lamps.find((l) => l.id === lampId);
  const leaves = target ? heldBy(target.place) : undefined;
  const hang = async () => {
    if (!target) return;
    const known = units.find((u) => u.unit.id === chosen);
    const fresh: LampUnit = {
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
    const done = await onHang({
      unit: known?.unit ?? fresh,
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
      title={props.place ? `Replace: ${target?.label ?? ""}` : `Hang ${unit?.unit.label}`}
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
        {!unit && (
          <SelectField
            label="The lamp that is hung"
            value={chosen}
            onChange={setChosen}
            options={[
              { value: "new", label: `A new one of the same kind: ${lamp?.label ?? lampId}` },
              ...spares.map((s) => ({
                value: s.unit.id,
                label: `${s.unit.label}, ${s.lamp_label}, ${Math.round(s.hours)} h`,
                group: "Spares",
              })),
            ]}
          />
        )}
        <DayField label="On" required value={on} onChange={(day) => day && setOn(day)} />
        {leaves && leaves !== unit && (
          <div>
            <p className="text-sm text-soft">{leaves.unit.label}, which hangs there now, is</p>
            <Choice
              label="What becomes of the old lamp"
              value={old}
              onChange={setOld}
              options={[
                { value: "retired", label: "thrown away" },
                { value: "spare", label: "kept as a spare" },
              ]}
            />
            {MERCURY.has(kindOf(leaves.unit.lamp_id)) && (
              <p className="mt-1 text-sm text-soft">
                Such lamps hold mercury: by local rule, not into the bin. If one breaks, air the
                room and collect the pieces without a vacuum cleaner.
              </p>
            )}
          </div>
        )}
        <div className="flex gap-2">
          <Button type="submit" tone="strong" disabled={!target || busy}>
            {busy ? "Hanging…" : "Hang it"}
          </Button>
          <Button onClick={onClose}>Leave it</Button>
        </div>
      </form>
    </Panel>
  );
}
