import { useQuery, useQueryClient } from "@tanstack/react-query";
import { fetchCalendarAddress, newCalendarAddress } from "../../api/year";
import { useAction } from "../../app/useAction";
import { HERE } from "../../domain/readings/kinds";
import { Button } from "../../ui/Button";

/** An address that calendars on the same network may follow: all enclosures and tasks of the room. */
export function CalendarAddress() {
  const cache = useQueryClient();
  const address = useQuery({ queryKey: ["calendar-address"], queryFn: fetchCalendarAddress });
  const make = useAction(newCalendarAddress, (fresh) =>
    cache.setQueryData(["calendar-address"], fresh),
  );
  const path = address.data;
  const whole = path
    ? `${window.location.origin}${path}?${new URLSearchParams({ zone: HERE })}`
    : null;
  const local = ["127.0.0.1", "localhost"].includes(window.location.hostname);
  return (
    <details className="mt-2 text-sm">
      <summary className="min-h-8 font-medium">Follow the whole room from a calendar</summary>
      {whole ? (
        <div className="space-y-2">
          <label className="block text-soft">
            Address to subscribe to
            <input
              readOnly
              value={whole}
              onFocus={(e) => e.target.select()}
              className="block h-9 w-full rounded-md border border-edge bg-raised px-2 font-mono text-ink"
            />
          </label>
          <p className="text-soft">
            Whoever knows it can read the calendar, without the passphrase and nothing else.
            {local &&
              " It works on this machine only; started with --host, Noon Shade can be reached from the network."}
          </p>
          <Button size="small" onClick={() => make.mutate()}>
            Make a new address; this one stops working
          </Button>
        </div>
      ) : (
        <Button size="small" onClick={() => make.mutate()} disabled={address.isPending}>
          Make an address
        </Button>
      )}
    </details>
  );
}
