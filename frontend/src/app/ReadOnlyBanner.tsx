import { useQuery } from "@tanstack/react-query";
import { fetchHealth } from "../api/client";

/** Says on every screen that nothing can be stored, where the data folder may only be read. */
export function ReadOnlyBanner() {
  const { data } = useQuery({
    queryKey: ["health"],
    queryFn: fetchHealth,
    staleTime: Number.POSITIVE_INFINITY,
  });
  if (!data?.reads_only) return null;
  return (
    <p
      role="status"
      className="no-print border-b border-edge bg-high-wash px-4 py-2 text-sm text-high"
    >
      <strong>Nothing you change is stored.</strong> The data folder may only be read. To change
      things, give this program the right to write there and start it again.
    </p>
  );
}
