import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";
import { createPlan } from "../../api/client";
import { fetchCohabitation, setEnclosureRole } from "../../api/growth";
import type { EnclosureRole } from "../../api/types";
import { describe, useNotify } from "../../app/notices";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Phrase } from "../plan/Phrase";
import type { PlanEditor } from "../plan/usePlanEditor";

/** Who shares the enclosure, what there is for each, what the enclosure is used for, and the spares. */
export function CohabitationPanel({ planId, editor }: { planId: string; editor: PlanEditor }) {
  const { document } = editor;
  const cache = useQueryClient();
  const notify = useNotify();
  const navigate = useNavigate();
  const cohabitation = useQuery({
    queryKey: ["cohabitation", planId, editor.revision],
    queryFn: () => fetchCohabitation(planId),
    placeholderData: (old) => old,
  });
  const refresh = () => cache.invalidateQueries({ queryKey: ["cohabitation"] });
  const use = useMutation({
    mutationFn: (next: EnclosureRole) => setEnclosureRole(planId, next),
    onError: (error) => notify({ ...describe(error), tone: "trouble" }),
    onSettled: () => void refresh(),
  });
  const spare = useMutation({
    mutationFn: async () => {
      const name = `Spare for ${document.name}`.slice(0, 80);
      const animal = { ...document.animal, count: 1 };
      const made = await createPlan({ ...document, name, animal }, `Spare of ${document.name}`);
      await setEnclosureRole(made.id, "spare");
      return made;
    },
    onSuccess: (plan) => {
      void cache.invalidateQueries({ queryKey: ["plans"] });
      notify({
        title: `${plan.name} was made`,
        tone: "plain",
        action: { label: "Open it", run: () => void navigate(`/plans/${plan.id}`) },
      });
    },
    onError: (error) => notify({ ...describe(error), tone: "trouble" }),
    onSettled: () => void refresh(),
  });
  const data = cohabitation.data;
  if (cohabitation.isError) {
    return (
      <p role="alert" className="text-high">
        {describe(cohabitation.error).title}: {describe(cohabitation.error).detail}
      </p>
    );
  }
  if (!data) return null;
  const ready = data.spares.filter((s) => s.is_large_enough);
  return (
    <section
      aria-label="Cohabitation"
      className="rounded-xl border border-line bg-panel p-4"
      data-testid="cohabitation"
    >
      <h2 className="text-lg font-semibold">Who lives here</h2>
      <dl className="mt-1 grid grid-cols-[auto_1fr] gap-x-3 gap-y-0.5">
        <dt className="text-soft">In the plan</dt>
        <dd>
          {data.count} {data.count === 1 ? "animal, alone" : "animals together"}
          {data.registered > 0 && data.registered !== data.count && (
            <span className="text-high"> (the logbook has {data.registered})</span>
          )}
        </dd>
        <dt className="text-soft">Refuges</dt>
        <dd>
          {data.hides}
          {data.together && `, ${perAnimal(data.hides, data.count)}`}
        </dd>
        {data.basking_spots !== null && (
          <>
            <dt className="text-soft">Basking spots</dt>
            <dd>
              {data.basking_spots}
              {data.together && `, ${perAnimal(data.basking_spots, data.count)}`}
            </dd>
          </>
        )}
      </dl>
      {data.faults.map((fault, i) => (
        <p key={i} className="mt-1 border-l-4 border-high bg-high-wash px-3 py-1.5 text-sm">
          <Phrase parts={fault} />
        </p>
      ))}
      {data.together && ready.length === 0 && (
        <p className="mt-1 border-l-4 border-high bg-high-wash px-3 py-1.5 text-sm">
          No spare enclosure is ready for the day they must be separated.
        </p>
      )}
      {data.spares.length > 0 && (
        <p className="mt-1 text-sm">
          Spare enclosures:{" "}
          {data.spares.map((s, i) => (
            <span key={s.plan_id}>
              {i > 0 && ", "}
              <Link to={`/plans/${s.plan_id}`} className="text-accent underline">
                {s.name}
              </Link>
              {!s.is_large_enough && " (too small for it)"}
            </span>
          ))}
        </p>
      )}
      <div className="mt-2 flex flex-wrap items-center gap-3">
        <Choice
          label="This enclosure is used as"
          value={data.role}
          onChange={(next) => use.mutate(next)}
          options={[
            { value: "home", label: "A home" },
            { value: "spare", label: "A spare" },
            { value: "quarantine", label: "Quarantine" },
          ]}
        />
        {ready.length === 0 && data.role === "home" && (
          <Button size="small" disabled={spare.isPending} onClick={() => spare.mutate()}>
            Make a spare like this one
          </Button>
        )}
      </div>
    </section>
  );
}

function perAnimal(things: number, animals: number): string {
  return things >= animals ? "enough for each" : `${things} for ${animals}`;
}
