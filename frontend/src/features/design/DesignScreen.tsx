import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { startRedesign } from "../../api/client";
import type { RedesignRequest, SetUp } from "../../api/types";
import { describe } from "../../app/notices";
import { withSetUp } from "../../domain/plan/setUp";
import { capitalized } from "../../domain/words";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { EnclosureBar } from "../plan/EnclosureBar";
import { useOpenPlan } from "../plan/PlanFrame";
import { DesignProgress } from "./DesignProgress";
import { SetUps } from "./SetUps";
import { useDesign } from "./useDesign";
import { useWishes, WishesFields } from "./Wishes";

type Scope = NonNullable<RedesignRequest["scope"]>;

const SCOPES: readonly { value: Scope; label: string }[] = [
  { value: "equipment", label: "Lamps and heaters" },
  { value: "heating", label: "Only the heating" },
  { value: "light", label: "Only the light" },
];

/** Other lamps and heaters for an existing enclosure: its walls and things stay as they are. */
export function DesignScreen() {
  const { planId, catalog, editor } = useOpenPlan();
  const navigate = useNavigate();
  const design = useDesign();
  const [scope, setScope] = useState<Scope>("equipment");
  const wishes = useWishes();
  const result = design.status?.result ?? null;
  const failed = design.status?.state === "failed" ? design.status.problem : null;
  const name = editor.document.name;
  useEffect(() => {
    document.title = `Design: ${name} · Noon Shade`;
  }, [name]);
  useEffect(() => {
    if (result) document.getElementById("set-ups")?.focus();
  }, [result]);
  const take = (setUp: SetUp) => {
    // The room and who lives there are the keeper's; what is pinned and measured stays with the plan.
    editor.commit(withSetUp(editor.document, setUp.plan), `Designed: ${setUp.label}`);
    void navigate(`/plans/${planId}`);
  };
  return (
    <div className="flex h-dvh flex-col overflow-hidden print:h-auto print:overflow-visible">
      <EnclosureBar planId={planId} catalog={catalog} editor={editor} />
      <main className="min-h-0 flex-1 overflow-y-auto print:overflow-visible">
        <div className={`mx-auto p-4 sm:p-6 ${result ? "max-w-7xl" : "max-w-3xl"}`}>
          <h2 className={result ? "sr-only" : "text-2xl font-semibold"}>
            Design lamps and heaters
          </h2>
          {result ? (
            <SetUps
              result={result}
              catalog={catalog}
              busy={false}
              onTake={take}
              onAgain={design.clear}
            />
          ) : (
            <form
              className="mt-2 space-y-5"
              onSubmit={(event) => {
                event.preventDefault();
                if (design.running) return;
                design.start(() =>
                  startRedesign({
                    document: editor.document,
                    scope,
                    ...wishes.asked,
                    seed: 0,
                  }),
                );
              }}
            >
              <p className="text-soft">
                Walls, furnishings and room stay as they are, and so do lamps that are locked.
                Lamps, heaters and thermostats are chosen again; misting and the dampness of the
                ground may change too. Taking a set-up can be undone.
              </p>
              <Choice
                label="What is chosen again"
                value={scope}
                onChange={setScope}
                options={SCOPES}
              />
              <WishesFields {...wishes} />
              {(design.error != null || failed) && (
                <div role="alert" className="rounded-lg border border-high bg-high-wash p-3">
                  <p className="font-semibold text-high">
                    {failed ? "No set-up can be made of this" : describe(design.error).title}
                  </p>
                  <p>{failed ? `${capitalized(failed)}.` : describe(design.error).detail}</p>
                </div>
              )}
              <div className="flex flex-wrap gap-3">
                <Button type="submit" tone="strong" disabled={design.running}>
                  {design.running ? "Looking…" : "Find set-ups"}
                </Button>
                <Button onClick={() => void navigate(`/plans/${planId}`)}>Back to the plan</Button>
              </div>
              {design.running && (
                <DesignProgress status={design.status} catalog={catalog} onStop={design.stop} />
              )}
            </form>
          )}
        </div>
      </main>
    </div>
  );
}
