import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Download, Trash2, Upload } from "lucide-react";
import { useEffect } from "react";
import { Link, useNavigate } from "react-router";
import {
  bringBackPlan,
  createPlan,
  evaluate,
  fetchCatalog,
  fetchPlans,
  ProblemError,
  removePlan,
} from "../../api/client";
import type { Catalog, PlanDocument, PlanSummary } from "../../api/types";
import { Header } from "../../app/Header";
import { describe, useNotify } from "../../app/notices";
import { usePreferences } from "../../app/preferences";
import { fixturesOf, furnishingsOf } from "../../plan/document";
import { BoxDrawing, FurnishingShape } from "../../stage/BoxDrawing";
import { FixtureShape } from "../../stage/FixtureShape";
import { headroom, projection } from "../../stage/projection";
import { Button, IconButton } from "../../ui/Button";
import { FileButton } from "../../ui/FileButton";
import { fails } from "../../units/needs";
import { show } from "../../units/units";

const LARGEST_FILE = 1_000_000;

/** All boxes, and the way to bring one in from a file. */
export function RoomScreen() {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const notify = useNotify();
  const plans = useQuery({ queryKey: ["plans"], queryFn: fetchPlans, staleTime: 0 });
  const catalog = useQuery({ queryKey: ["catalog"], queryFn: fetchCatalog, staleTime: Infinity });
  const refresh = () => queries.invalidateQueries({ queryKey: ["plans"] });
  useEffect(() => {
    document.title = "The room · Noon Shade";
  }, []);

  const bringIn = useMutation({
    mutationFn: async (file: File) =>
      createPlan(await readPlanFile(file), `Imported: ${file.name}`.slice(0, 200)),
    onSuccess: (plan) => {
      void refresh();
      void navigate(`/plans/${plan.id}`);
    },
    onError: (error, file) => {
      const { title, detail } = describe(error);
      notify({
        title: `${file.name} was not imported`,
        detail: `${title}. ${detail}`,
        tone: "trouble",
      });
    },
  });
  const remove = useMutation({
    mutationFn: (plan: PlanSummary) => removePlan(plan.id),
    onSuccess: (_, plan) => {
      void refresh();
      notify({
        title: `${plan.name} was removed`,
        tone: "plain",
        action: {
          label: "Bring it back",
          run: () =>
            void bringBackPlan(plan.id).then(refresh, (e) =>
              notify({ ...describe(e), tone: "trouble" }),
            ),
        },
      });
    },
    onError: (error) => notify({ ...describe(error), tone: "trouble" }),
  });

  return (
    <div className="min-h-screen">
      <Header />
      <main className="mx-auto max-w-6xl p-4 sm:p-6">
        <div className="mb-4 flex flex-wrap items-center justify-between gap-3">
          <h1 className="text-2xl font-semibold">The room</h1>
          <FileButton
            label="Plan file"
            accept=".json,application/json"
            testId="import-file"
            tone="strong"
            disabled={bringIn.isPending}
            onFile={(file) => bringIn.mutate(file)}
          >
            <Upload size={17} aria-hidden />
            {bringIn.isPending ? "Importing…" : "Import a plan"}
          </FileButton>
        </div>
        {plans.isPending && <p className="text-soft">Loading the boxes…</p>}
        {plans.isError && (
          <div role="alert" className="rounded-lg border border-high bg-high-wash p-4">
            <p className="font-semibold text-high">{describe(plans.error).title}</p>
            <p>{describe(plans.error).detail}</p>
            <Button className="mt-2" onClick={() => void plans.refetch()}>
              Try again
            </Button>
          </div>
        )}
        {plans.data?.length === 0 && (
          <div className="rounded-lg border border-dashed border-edge p-10 text-center">
            <p className="text-lg font-semibold">No boxes yet</p>
            <p className="mt-1 text-soft">
              Import a plan file, or start the demo room with <code>make demo</code> to look around.
            </p>
          </div>
        )}
        <ul className="grid gap-4 sm:grid-cols-2 lg:grid-cols-3">
          {plans.data?.map((plan) => (
            <PlanCard
              key={plan.id}
              plan={plan}
              catalog={catalog.data ?? null}
              onRemove={() => remove.mutate(plan)}
            />
          ))}
        </ul>
      </main>
    </div>
  );
}

interface PlanCardProps {
  plan: PlanSummary;
  catalog: Catalog | null;
  onRemove: () => void;
}

function PlanCard({ plan, catalog, onRemove }: PlanCardProps) {
  const { units } = usePreferences();
  const d = plan.document;
  const species = catalog?.species.find((s) => s.id === d.animal.species_id);
  const verdict = useQuery({
    queryKey: ["verdict", plan.id, plan.revision],
    queryFn: () => evaluate(d),
    staleTime: Infinity,
  });
  const judged = [...(verdict.data?.verdicts ?? []), ...(verdict.data?.findings ?? [])];
  const failed = judged.filter((v) => fails(v.severity)).length;
  const size = [d.box.length_m, d.box.depth_m, d.box.height_m];
  return (
    <li className="overflow-hidden rounded-xl border border-line bg-panel">
      <Link
        to={`/plans/${plan.id}`}
        className="block hover:bg-wash"
        data-testid={`plan-${plan.id}`}
      >
        <Thumbnail document={d} catalog={catalog} />
        <div className="px-4 pt-2 pb-3">
          <h2 className="font-semibold">{plan.name}</h2>
          <p className="text-sm text-soft">
            {species?.common_name}, <i>{species?.scientific_name}</i>
          </p>
          <p className="mt-1 text-sm text-soft">
            {size.map((m) => show(m, "length", units, 0).split(" ")[0]).join(" × ")}{" "}
            {units === "metric" ? "cm" : "in"}
          </p>
          <p className="mt-1 min-h-6 font-semibold">
            {verdict.isPending && <span className="font-normal text-soft">Working it out…</span>}
            {verdict.isError && <span className="text-high">{describe(verdict.error).title}</span>}
            {verdict.data &&
              (failed > 0 ? (
                <span className="text-high">▲▼ {failed} to change</span>
              ) : (
                <span className="text-fit">● everything fits</span>
              ))}
          </p>
        </div>
      </Link>
      <div className="flex items-center justify-between border-t border-line px-2 py-1 text-sm text-soft">
        <span className="px-2">revision {plan.revision}</span>
        <span>
          <a
            href={`/api/plans/${plan.id}/export`}
            aria-label={`Export ${plan.name}`}
            className="inline-grid size-9 place-items-center rounded-md hover:bg-wash"
          >
            <Download size={17} aria-hidden />
          </a>
          <IconButton label={`Remove ${plan.name}`} onClick={onRemove}>
            <Trash2 size={17} aria-hidden />
          </IconButton>
        </span>
      </div>
    </li>
  );
}

function Thumbnail({ document: d, catalog }: { document: PlanDocument; catalog: Catalog | null }) {
  const p = projection(d.box, headroom(d), 400, 230);
  return (
    <svg viewBox={`0 0 400 ${p.height}`} className="block w-full bg-air" aria-hidden="true">
      <BoxDrawing box={d.box} depth={d.substrate.depth_m} projection={p} />
      {furnishingsOf(d).map((item) => (
        <FurnishingShape key={item.id} item={item} document={d} projection={p} />
      ))}
      {fixturesOf(d).map((f) => {
        const lamp = catalog?.lamps.find((l) => l.id === f.lamp_id);
        return lamp ? (
          <FixtureShape
            key={f.id}
            fixture={f}
            lamp={lamp}
            document={d}
            projection={p}
            selected={false}
          />
        ) : null;
      })}
    </svg>
  );
}

/** Read a file as JSON; what is in it is checked by the server. */
async function readPlanFile(file: File): Promise<PlanDocument> {
  const refuse = (detail: string) =>
    new ProblemError({
      type: "/problems/file",
      title: "The file cannot be read",
      status: 0,
      detail,
    });
  if (file.size > LARGEST_FILE) throw refuse("A plan file has at most 1 MB.");
  const text = await file.text();
  try {
    return JSON.parse(text) as PlanDocument;
  } catch (error) {
    throw refuse(`It is not JSON: ${error instanceof Error ? error.message : "unreadable"}`);
  }
}
