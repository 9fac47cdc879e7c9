import { Trash2 } from "lucide-react";
import { putReadings, removeReading } from "../../api/readings";
import type { Instrument, PredictedReading, StoredReading } from "../../api/types";
import { useNotify } from "../../app/notices";
import { useQueuedMutation } from "../../app/useQueuedMutation";
import { KIND, valueText } from "../../domain/readings/kinds";
import { post } from "../../domain/readings/outbox";
import { IconButton } from "../../ui/Button";
import { usePreferences } from "../../ui/preferences";
import { ReadingComparison } from "./ReadingComparison";

interface ReadingRowsProps {
  planId: string;
  readings: readonly StoredReading[];
  predicted: ReadonlyMap<string, PredictedReading | undefined>;
  instruments: readonly Instrument[];
  loading: boolean;
}

/** Every reading with what was expected there, the newest first. */
export function ReadingRows(props: ReadingRowsProps) {
  const { planId, readings, predicted, instruments, loading } = props;
  const { units } = usePreferences();
  const notify = useNotify();
  const runQueued = useQueuedMutation(["readings"]);
  if (loading) return <p className="p-4 text-soft">Looking up the readings…</p>;
  if (readings.length === 0) {
    return (
      <p className="px-4 pt-1 pb-4 text-soft">
        No readings yet. Propose a round, or add one that you have taken.
      </p>
    );
  }
  const remove = async ({ reading }: StoredReading) => {
    if (!(await runQueued(() => removeReading(reading.id)))) return;
    notify({
      title: "Reading deleted",
      detail: `${reading.place || KIND[reading.kind]}, ${valueText(reading.value, reading.kind, units)}`,
      tone: "plain",
      action: {
        label: "Put it back",
        run: () => void runQueued(() => putReadings(planId, [reading])),
      },
    });
  };
  return (
    <ul className="text-sm">
      {[...readings].reverse().map((stored) => {
        const { reading, due } = stored;
        const ahead = predicted.get(reading.id);
        const name = reading.place || KIND[reading.kind];
        const by = instruments.find((i) => i.id === reading.instrument_id);
        return (
          <li
            key={reading.id}
            className="grid grid-cols-[minmax(0,1fr)_auto] items-start gap-x-3 gap-y-1 border-t border-line px-4 py-2 sm:grid-cols-[minmax(0,11rem)_5rem_minmax(0,1fr)_auto]"
            data-testid={`reading-${reading.id}`}
          >
            <div className="min-w-0">
              <h3 className="font-semibold">{name}</h3>
              <p className="text-soft">
                {KIND[reading.kind]}
                {by && `, ${by.label}`}
              </p>
              <p className="text-soft">{when(reading.taken_at)}</p>
              {reading.note && <p className="text-soft">“{reading.note}”</p>}
            </div>
            <p className="text-right text-base font-semibold whitespace-nowrap">
              {valueText(reading.value, reading.kind, units)}
            </p>
            <div className="min-w-0">
              {due ? (
                <p className="text-soft">Due again: {due} changed since.</p>
              ) : ahead?.expected ? (
                <ReadingComparison
                  value={reading.value}
                  expected={ahead.expected}
                  kind={reading.kind}
                />
              ) : (
                <p className="text-soft">{ahead?.why_not ?? "Computing…"}</p>
              )}
            </div>
            <div className="flex items-center gap-1">
              <label className="flex min-h-9 items-center gap-1.5">
                <input
                  type="checkbox"
                  className="size-5 accent-accent"
                  aria-label={`Use ${name}, ${KIND[reading.kind]}, for fitting`}
                  checked={!reading.excluded}
                  onChange={(e) => post(planId, { ...reading, excluded: !e.target.checked })}
                />
                use
              </label>
              <IconButton label={`Take out ${name}`} onClick={() => void remove(stored)}>
                <Trash2 size={16} aria-hidden />
              </IconButton>
            </div>
          </li>
        );
      })}
    </ul>
  );
}

const when = (moment: string) =>
  new Date(moment).toLocaleString([], {
    day: "numeric",
    month: "short",
    hour: "2-digit",
    minute: "2-digit",
  });
