import { useMutation, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { evaluate, fetchPlan, savePlan } from "../../api/client";
import { ErrorPage } from "../../app/ErrorPage";
import { Header } from "../../app/Header";
import { describe, useNotify } from "../../app/notices";
import { Button } from "../../ui/Button";
import { usePreferences } from "../../ui/preferences";
import { Checks } from "../plan/Checks";
import { NOT_ASSESSED } from "../plan/useEvaluation";
import { openSide } from "./comparisonSource";
import { Picture, type Seen, SeenChoice } from "./Picture";

const ignore = () => {};
const LINK =
  "inline-flex min-h-9 items-center rounded-md border border-edge bg-raised px-3 font-medium hover:bg-wash";

/** One revision, read only. */
export function RevisionScreen() {
  const { planId = "", number = "" } = useParams();
  const revision = Number(number);
  const navigate = useNavigate();
  const notify = useNotify();
  const { units } = usePreferences();
  const [seen, setSeen] = useState<Seen>({ field: "uvi", view: "front" });
  const side = useQuery({
    queryKey: ["revision", planId, revision],
    queryFn: () => openSide({ planId, revision }),
    enabled: Number.isInteger(revision) && revision > 0,
  });
  const newest = useQuery({ queryKey: ["plan-head", planId], queryFn: () => fetchPlan(planId) });
  const result = useQuery({
    queryKey: ["revision-checks", planId, revision],
    queryFn: () => evaluate((side.data as NonNullable<typeof side.data>).document),
    enabled: side.data !== undefined,
  });
  const bringBack = useMutation({
    mutationFn: async () => {
      if (!side.data || !newest.data) return;
      const summary = `Back to revision ${revision}`;
      await savePlan(planId, side.data.document, newest.data.revision, summary);
    },
    onSuccess: () => void navigate(`/plans/${planId}`),
    onError: (error) => notify({ ...describe(error), tone: "trouble" }),
  });
  useEffect(() => {
    if (side.data) document.title = `${side.data.document.name}, revision ${revision} · Noon Shade`;
  }, [side.data, revision]);
  const error = side.error ?? newest.error ?? result.error;
  if (error) return <ErrorPage {...describe(error)} />;
  if (!(Number.isInteger(revision) && revision > 0)) {
    return (
      <ErrorPage title="There is no such revision" detail={`“${number}” is not a whole number.`} />
    );
  }
  const head = newest.data?.revision;
  return (
    <div className="min-h-screen">
      <Header />
      <main className="mx-auto grid max-w-7xl gap-4 p-4 lg:grid-cols-[minmax(0,1fr)_26rem]">
        <div className="min-w-0">
          <h1 className="text-xl font-semibold">
            {side.data?.document.name ?? "A revision"}, revision {revision}
            {side.data?.name && <span className="text-soft"> “{side.data.name}”</span>}
          </h1>
          <p className="mt-1 text-soft">
            {head === undefined || head === revision
              ? "This is the newest revision."
              : `An older revision, to look at; the newest is revision ${head}.`}
          </p>
          <div className="my-3 flex flex-wrap gap-2">
            <Link className={LINK} to={`/plans/${planId}`}>
              Open the plan
            </Link>
            {head !== undefined && head !== revision && (
              <>
                <Link className={LINK} to={`/compare?a=${planId}@${revision}&b=${planId}`}>
                  Compare with the newest
                </Link>
                <Button disabled={bringBack.isPending} onClick={() => bringBack.mutate()}>
                  Restore this revision
                </Button>
              </>
            )}
            <a
              className={LINK}
              href={`/api/plans/${planId}/report?revision=${revision}&units=${units}`}
            >
              Its report
            </a>
          </div>
          {side.data && (
            <>
              <SeenChoice seen={seen} onSeen={setSeen} />
              <div className="mt-2">
                <Picture side={side.data} seen={seen} />
              </div>
            </>
          )}
        </div>
        <section
          aria-label="Needs and figures"
          className="min-w-0 rounded-xl border border-line bg-panel"
        >
          <Checks
            evaluation={result.data ?? null}
            assessment={NOT_ASSESSED}
            proposing={false}
            onTry={ignore}
            onPatchAbove={ignore}
            onPoint={ignore}
            bodyLength={side.data?.document.animal.body_length_m ?? 0.1}
          />
        </section>
      </main>
    </div>
  );
}
