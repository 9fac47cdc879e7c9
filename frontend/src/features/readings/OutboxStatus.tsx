import { CloudOff } from "lucide-react";
import { discard, send, useOutbox } from "../../domain/readings/outbox";
import { Button } from "../../ui/Button";

/** Whether every reading is safe in the data file, and what waits. */
export function OutboxStatus() {
  const { waiting, sending, trouble, fleeting } = useOutbox();
  const due = waiting.filter((w) => w.refused === undefined);
  const refused = waiting.filter((w) => w.refused !== undefined);
  const count = `${due.length} ${due.length === 1 ? "reading" : "readings"}`;
  return (
    <div data-testid="outgoing" data-waiting={due.length}>
      <p role="status" className="flex min-h-9 flex-wrap items-center gap-2 text-sm">
        {due.length === 0 && <span className="text-fit">● Every reading is stored.</span>}
        {due.length > 0 && sending && <span className="text-soft">Storing {count}…</span>}
        {due.length > 0 && !sending && (
          <>
            <CloudOff size={16} aria-hidden className="text-high" />
            <span>
              <strong>{count} on this device, not stored yet</strong>
              {trouble && `: ${trouble}`}.{" "}
              {fleeting
                ? "This browser cannot store them: leave the page open."
                : "Stored on this device and sent when there is a connection."}
            </span>
            <Button size="small" onClick={() => void send()}>
              Send now
            </Button>
          </>
        )}
      </p>
      {refused.map((w) => (
        <p
          key={w.reading.id}
          role="alert"
          className="mt-1 flex flex-wrap items-center gap-2 rounded border border-high bg-high-wash p-2 text-sm"
        >
          <span className="flex-1">
            {w.reading.place || "A reading"} cannot be stored: {w.refused}. Read or type it again.
          </span>
          <Button size="small" onClick={() => discard(w.reading.id)}>
            Discard it
          </Button>
        </p>
      ))}
    </div>
  );
}
