import { useQuery } from "@tanstack/react-query";
import { Outlet, useOutletContext, useParams } from "react-router";
import { fetchCatalog, fetchPlan } from "../../api/client";
import type { Catalog, PlanSummary } from "../../api/types";
import { ErrorPage } from "../../app/ErrorPage";
import { Header } from "../../app/Header";
import { describe } from "../../app/notices";
import { type PlanEditor, usePlanEditor } from "./usePlanEditor";

interface OpenPlan {
  planId: string;
  catalog: Catalog;
  editor: PlanEditor;
}

/**
 * A plan that is open. Its screens share one editor, so that an edit on one is there on the other, saved or
 * not, and can be undone from there.
 */
export function PlanFrame() {
  const { planId = "" } = useParams();
  const catalog = useQuery({ queryKey: ["catalog"], queryFn: fetchCatalog, staleTime: Infinity });
  const plan = useQuery({
    queryKey: ["plan", planId],
    queryFn: () => fetchPlan(planId),
    staleTime: 0,
    gcTime: 0,
  });
  const error = plan.error ?? catalog.error;
  if (error) return <ErrorPage {...describe(error)} />;
  if (!plan.data || !catalog.data) {
    return <Opening />;
  }
  return <Open key={plan.data.id} plan={plan.data} catalog={catalog.data} />;
}

/** What is shown until there is something to show. */
export function Opening() {
  return (
    <>
      <Header />
      <main aria-busy="true" className="p-8 text-soft">
        <h1 className="sr-only">Plan</h1>
        Opening the plan…
      </main>
    </>
  );
}

function Open({ plan, catalog }: { plan: PlanSummary; catalog: Catalog }) {
  const editor = usePlanEditor(plan);
  return <Outlet context={{ planId: plan.id, catalog, editor } satisfies OpenPlan} />;
}

/** The open plan, on one of its screens. */
export const useOpenPlan = (): OpenPlan => useOutletContext<OpenPlan>();
