import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { fetchComparison, fetchPlans, fetchRevisions } from "../../api/client";
import type { Comparison, PlanSummary } from "../../api/types";
import { Header } from "../../app/Header";
import { describe } from "../../app/notices";
import { Button } from "../../ui/Button";
import { SelectField } from "../../ui/SelectField";
import { SettledMain } from "../../ui/Settled";
import { Phrase } from "../plan/Phrase";
import { SAMPLE_ID } from "../welcome/sample";
import { type Opened, openSide, readSide, type Side, writeSide } from "./comparisonSource";
import { Differences } from "./Differences";
import { Picture, type Seen, SeenChoice } from "./Picture";

/** Two revisions of a plan, or two plans, side by side with their differences by place. */
export function CompareScreen() {
  const [search, setSearch] = useSearchParams();
  const [seen, setSeen] = useState<Seen>({ field: "uvi", view: "front" });
  const plans = useQuery({ queryKey: ["plans"], queryFn: fetchPlans, staleTime: 0 });
  const all = plans.data ?? [];
  const first = all[0] ? { planId: all[0].id, revision: null } : null;
  const a = readSide(search.get("a")) ?? first;
  const second = all[1] ? { planId: all[1].id, revision: null } : a;
  // What is compared with is named in the address; without it, two enclosures are.
  const b = readSide(search.get("b")) ?? (search.get("a") ? a : second);
  const put = (name: "a" | "b", side: Side) => {
    const next = { a: a ? writeSide(a) : "", b: b ? writeSide(b) : "", [name]: writeSide(side) };
    setSearch(next, { replace: true });
  };
  const opened = useQuery({
    queryKey: ["compare", a && writeSide(a), b && writeSide(b)],
    queryFn: async () => {
      const [before, after] = await Promise.all([openSide(a as Side), openSide(b as Side)]);
      const comparison = await fetchComparison(before.document, after.document);
      return { before, after, comparison };
    },
    enabled: a !== null && b !== null,
    staleTime: 0,
  });
  useEffect(() => {
    document.title = "Compare · Noon Shade";
  }, []);
  return (
    <div className="min-h-screen">
      <Header />
      <SettledMain className="mx-auto max-w-7xl p-4">
        <div className="flex flex-wrap items-center justify-between gap-3">
          <h1 className="text-2xl font-semibold">Compare</h1>
          <div className="flex flex-wrap gap-2">
            <SeenChoice seen={seen} onSeen={setSeen} />
            {a && b && (
              <Button
                onClick={() => setSearch({ a: writeSide(b), b: writeSide(a) }, { replace: true })}
              >
                Swap sides
              </Button>
            )}
          </div>
        </div>
        {plans.data?.length === 0 && !a && (
          <p className="mt-4 rounded-lg border border-dashed border-edge p-8 text-center text-soft">
            Here two enclosures, or two revisions of one, will stand side by side with what differs
            between them. There is none yet.{" "}
            <Link to="/new" className="font-semibold text-accent underline">
              Plan an enclosure
            </Link>
          </p>
        )}
        {plans.isError && <p className="text-high">{describe(plans.error).detail}</p>}
        <div className="mt-3 grid gap-4 md:grid-cols-2">
          {(["a", "b"] as const).map((name) => {
            const side = name === "a" ? a : b;
            if (!side) return null;
            const here = opened.data?.[name === "a" ? "before" : "after"];
            return (
              <section
                key={name}
                aria-label={name === "a" ? "Left side" : "Right side"}
                className="min-w-0"
              >
                <SideChoice side={side} plans={all} onSide={(s) => put(name, s)} />
                {here && opened.data && (
                  <OneSide
                    side={here}
                    summary={opened.data.comparison[name === "a" ? "before" : "after"]}
                    seen={seen}
                  />
                )}
              </section>
            );
          })}
        </div>
        {opened.isPending && a && (
          <p role="status" className="mt-4 text-soft">
            Computing both…
          </p>
        )}
        {opened.isError && (
          <p role="alert" className="mt-4 rounded-lg border border-high bg-high-wash p-3">
            {describe(opened.error).title}: {describe(opened.error).detail}
          </p>
        )}
        {opened.data && <Differences comparison={opened.data.comparison} />}
      </SettledMain>
    </div>
  );
}

interface SideChoiceProps {
  side: Side;
  plans: readonly PlanSummary[];
  onSide: (side: Side) => void;
}

function SideChoice({ side, plans, onSide }: SideChoiceProps) {
  const revisions = useQuery({
    queryKey: ["revisions", side.planId],
    queryFn: () => fetchRevisions(side.planId),
    staleTime: 0,
  });
  return (
    <div className="mb-2 grid grid-cols-2 gap-2">
      <SelectField
        label="Plan"
        value={side.planId}
        onChange={(planId) => onSide({ planId, revision: null })}
        options={[
          ...plans.map((p) => ({ value: p.id, label: p.name })),
          ...(side.planId === SAMPLE_ID ? [{ value: SAMPLE_ID, label: "Sample" }] : []),
        ]}
      />
      <SelectField
        label="Revision"
        value={side.revision === null ? "" : String(side.revision)}
        onChange={(text) =>
          onSide({ planId: side.planId, revision: text === "" ? null : Number(text) })
        }
        options={[
          { value: "", label: "The newest" },
          ...(revisions.data?.revisions ?? []).map((r) => ({
            value: String(r.number),
            label: `${r.number} · ${r.name || r.summary}`.slice(0, 70),
          })),
        ]}
      />
    </div>
  );
}

interface OneSideProps {
  side: Opened;
  summary: Comparison["before"];
  seen: Seen;
}

function OneSide({ side, summary, seen }: OneSideProps) {
  return (
    <>
      <p className={`font-semibold ${summary.fits ? "text-fit" : "text-high"}`}>
        {summary.fits ? "● Nothing fails" : `▲▼ ${summary.failing} to change`}
        <span className="ml-2 font-normal text-soft">
          revision {side.revision}
          {side.name && ` “${side.name}”`} · {Math.round(summary.connected_w)} W
        </span>
      </p>
      <p className="mb-2 min-h-10 text-sm">
        <Phrase parts={summary.summary} />
      </p>
      <Picture side={side} seen={seen} />
    </>
  );
}
