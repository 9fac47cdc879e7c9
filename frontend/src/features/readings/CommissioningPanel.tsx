import { useQuery, useQueryClient } from "@tanstack/react-query";
import clsx from "clsx";
import { useState } from "react";
import { useNavigate } from "react-router";
import {
  beginCommissioningTest,
  fetchCommissioningTest,
  signCommissioningTest,
  startRound,
  unsignCommissioningTest,
} from "../../api/readings";
import type { CommissioningTest } from "../../api/types";
import { describe } from "../../app/notices";
import { useAction } from "../../app/useAction";
import { momentNow } from "../../domain/readings/kinds";
import { needFormat, quantityWords, rangeText } from "../../domain/units/needs";
import { Button } from "../../ui/Button";
import { Help } from "../../ui/Help";
import { Panel } from "../../ui/Panel";
import { usePreferences } from "../../ui/preferences";

const STATE: Record<
  CommissioningTest["needs"][number]["state"],
  { mark: string; word: string; ink: string }
> = {
  not_yet: { mark: "○", word: "not yet", ink: "text-soft" },
  ok: { mark: "●", word: "met", ink: "text-fit" },
  low: { mark: "▼", word: "too low", ink: "text-low" },
  high: { mark: "▲", word: "too high", ink: "text-high" },
  not_readable: { mark: "–", word: "by the plan", ink: "text-soft" },
};
const HEAD: Record<CommissioningTest["state"], string> = {
  none: "Test it before the animal moves in",
  running: "The test is running",
  ready: "Every need was read and met: you can sign it off",
  signed: "Signed off",
  reopened: "Open again: the enclosure was changed after it was signed off",
};

interface CommissioningPanelProps {
  planId: string;
  /** Changes with the readings and with the plan. */
  version: string;
}

/** A run of days with its readings, what is not yet, what is off, and the signature. */
export function CommissioningPanel({ planId, version }: CommissioningPanelProps) {
  const { units } = usePreferences();
  const cache = useQueryClient();
  const navigate = useNavigate();
  const commissioningTest = useQuery({
    queryKey: ["commissioningTest", planId, version],
    queryFn: () => fetchCommissioningTest(planId),
    staleTime: 0,
    placeholderData: (before) => before,
  });
  const change = useAction(
    (work: () => Promise<CommissioningTest>) => work(),
    (now) => cache.setQueryData(["commissioningTest", planId, version], now),
  );
  const changed = (work: () => Promise<CommissioningTest>) =>
    change.mutateAsync(work).then(
      () => true,
      () => false,
    );
  const found = commissioningTest.data;
  const read = useAction(
    () => {
      const missing = (found?.needs ?? []).filter((n) => n.state === "not_yet");
      return startRound(
        planId,
        missing.map((n) => n.check_id),
      );
    },
    (round) => navigate(`/plans/${planId}/rounds/${round.id}`),
  );
  if (!found) {
    return commissioningTest.error ? (
      <p role="alert" className="text-high">
        {describe(commissioningTest.error).detail}
      </p>
    ) : null;
  }
  const { state } = found;
  return (
    <section
      aria-label="Test"
      className="rounded-xl border border-line bg-panel p-4"
      data-testid="commissioning-test"
      data-state={state}
    >
      <h2
        className={clsx("text-lg font-semibold", {
          "text-fit": state === "signed" || state === "ready",
          "text-high": state === "reopened",
        })}
      >
        {HEAD[state]}
      </h2>
      <p className="text-sm text-soft">
        {state === "none"
          ? "Run the enclosure for some days without the animal, read every place it will use, then sign it off."
          : `From ${found.started_on}, read on ${found.days_read.length} of ${found.days} days; ${found.not_yet} needs not yet, ${found.deviations} off.`}
        {found.signature &&
          ` Signed by ${found.signature.by} on ${found.signature.at.slice(0, 10)} for revision ${found.signature.revision}.`}
      </p>
      {state === "reopened" && (
        <p className="mt-1 border-l-4 border-high bg-high-wash px-3 py-1.5 text-sm">
          Changed since: {found.changed.join(", ")}. Read again what is marked “not yet”.
        </p>
      )}
      <div className="mt-2 flex flex-wrap gap-2">
        {(state === "none" || state === "signed" || state === "reopened") && (
          <Begin
            again={state !== "none"}
            onBegin={(started_on, days) =>
              changed(() => beginCommissioningTest(planId, { started_on, days }))
            }
          />
        )}
        {(state === "running" || state === "ready") && found.days_read.length > 0 && (
          <Sign
            commissioningTest={found}
            onSign={(by, why) => changed(() => signCommissioningTest(planId, by, why))}
          />
        )}
        {state !== "none" && state !== "signed" && found.not_yet > 0 && (
          <Button size="small" disabled={read.isPending} onClick={() => read.mutate()}>
            {read.isPending ? "Computing…" : `Read the ${found.not_yet} that are not yet`}
          </Button>
        )}
        {found.signature && (
          <Button size="small" onClick={() => void changed(() => unsignCommissioningTest(planId))}>
            Take the signature back
          </Button>
        )}
        {state !== "none" && (
          <>
            <a
              className="inline-flex min-h-8 items-center rounded-md px-2.5 text-sm font-medium hover:bg-wash"
              href={`/api/plans/${planId}/commissioning-test/sheet?units=${units}`}
            >
              The sheet
            </a>
            <a
              className="inline-flex min-h-8 items-center rounded-md px-2.5 text-sm font-medium hover:bg-wash"
              href={`/api/plans/${planId}/commissioning-test/sheet.pdf?units=${units}`}
            >
              As PDF
            </a>
          </>
        )}
      </div>
      {state !== "none" && <Needs commissioningTest={found} />}
    </section>
  );
}

function Needs({ commissioningTest }: { commissioningTest: CommissioningTest }) {
  const { units } = usePreferences();
  return (
    <ul className="mt-3 divide-y divide-line text-sm">
      {commissioningTest.needs.map((n) => {
        const format = needFormat(n.need.quantity, units);
        const { mark, word, ink } = STATE[n.state];
        return (
          <li
            key={n.check_id}
            className="grid grid-cols-[minmax(0,1fr)_auto_6rem] items-baseline gap-x-3 py-1.5"
            data-testid={`tested-${n.check_id}`}
            data-state={n.state}
          >
            <span className="min-w-0">
              <strong>{n.place_label}</strong> {quantityWords(n.need.place, n.need.quantity)}, needs{" "}
              {rangeText(n.need, units)}
              {n.due && <span className="block text-high">{n.due} changed since it was read</span>}
              {n.days.length > 0 && (
                <span className="block text-soft">read on {n.days.join(", ")}</span>
              )}
            </span>
            <span className="text-right font-semibold">
              {n.value !== null && `${format.figure(n.value)}${format.unit}`}
            </span>
            <span className={clsx("font-semibold", ink)}>
              <span aria-hidden="true">{mark} </span>
              {word}
            </span>
          </li>
        );
      })}
    </ul>
  );
}

interface BeginProps {
  again: boolean;
  onBegin: (startedOn: string, days: number) => Promise<boolean>;
}

function Begin({ again, onBegin }: BeginProps) {
  const [days, setDays] = useState(3);
  return (
    <form
      className="flex flex-wrap items-center gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        void onBegin(momentNow().slice(0, 10), days);
      }}
    >
      <Button type="submit" tone={again ? "plain" : "strong"} size="small">
        {again ? "Begin a new test" : "Begin the test today"}
      </Button>
      <label className="flex items-center gap-1.5 text-sm text-soft">
        over
        <input
          type="number"
          min={1}
          max={60}
          value={days}
          onChange={(e) => setDays(Math.min(60, Math.max(1, Number(e.target.value) || 1)))}
          className="h-8 w-16 rounded-md border border-edge bg-raised px-2 text-ink"
        />
        days
        <Help about="how many days">
          <p>
            An enclosure of soil and stone takes two or three days to settle, and one of them should
            be as warm or as cold as the room gets.
          </p>
        </Help>
      </label>
    </form>
  );
}

interface SignProps {
  commissioningTest: CommissioningTest;
  onSign: (by: string, remarks: string) => Promise<boolean>;
}

/** The signature: what is not read or not met needs a word on why it is signed all the same. */
function Sign({ commissioningTest, onSign }: SignProps) {
  const [open, setOpen] = useState(false);
  const [by, setBy] = useState("");
  const [remarks, setRemarks] = useState("");
  const whole = commissioningTest.state === "ready";
  return (
    <>
      <Button size="small" tone={whole ? "strong" : "plain"} onClick={() => setOpen(true)}>
        Sign it off
      </Button>
      <Panel
        open={open}
        onOpenChange={setOpen}
        title="Sign the enclosure off"
        description={
          whole
            ? "Every need that can be read was read and met."
            : `${commissioningTest.not_yet} needs were not read, ${commissioningTest.deviations} are off, ${commissioningTest.days_read.length} of ${commissioningTest.days} days were read. The sheet says so.`
        }
      >
        <form
          className="space-y-3"
          onSubmit={async (e) => {
            e.preventDefault();
            if (await onSign(by.trim(), remarks.trim())) setOpen(false);
          }}
        >
          <label className="block text-sm text-soft">
            Name
            <input
              required
              value={by}
              maxLength={80}
              onChange={(e) => setBy(e.target.value)}
              className="h-9 w-full rounded-md border border-edge bg-raised px-2 text-ink"
            />
          </label>
          <label className="block text-sm text-soft">
            {whole ? "Remarks" : "Why you sign it all the same"}
            <textarea
              required={!whole}
              value={remarks}
              maxLength={2000}
              rows={3}
              onChange={(e) => setRemarks(e.target.value)}
              className="w-full rounded-md border border-edge bg-raised p-2 text-ink"
            />
          </label>
          <div className="flex justify-end">
            <Button type="submit" tone="strong">
              Sign
            </Button>
          </div>
        </form>
      </Panel>
    </>
  );
}
