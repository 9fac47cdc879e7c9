import { useMutation, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { fetchDesign, stopDesign } from "../../api/client";
import type { DesignStatus } from "../../api/types";

const ASK_MS = 600;

export interface Designing {
  status: DesignStatus | null;
  running: boolean;
  error: unknown;
  start: (begin: () => Promise<DesignStatus>) => void;
  stop: () => void;
  clear: () => void;
}

/** A design on the server: started, asked after until it has ended, stopped when its screen is left. */
export function useDesign(): Designing {
  const [id, setId] = useState<string | null>(null);
  const begin = useMutation({
    mutationFn: (ask: () => Promise<DesignStatus>) => ask(),
    onSuccess: (job) => setId(job.id),
  });
  const end = useMutation({ mutationFn: stopDesign });
  const asked = useQuery({
    queryKey: ["design", id],
    queryFn: ({ signal }) => fetchDesign(id ?? "", signal),
    enabled: id !== null,
    refetchInterval: (query) => (query.state.data?.state === "running" ? ASK_MS : false),
    refetchIntervalInBackground: true,
    gcTime: 0,
  });
  const status = id === null ? null : (asked.data ?? begin.data ?? null);
  const running = begin.isPending || status?.state === "running";
  useEffect(() => {
    if (id === null) return;
    // Whoever leaves does not want it any more.
    return () => void stopDesign(id).catch(() => undefined);
  }, [id]);
  return {
    status,
    running,
    error: begin.error ?? (asked.isError ? asked.error : null),
    start: (ask) => {
      setId(null);
      begin.mutate(ask);
    },
    stop: () => {
      if (id !== null) end.mutate(id);
    },
    clear: () => {
      setId(null);
      begin.reset();
    },
  };
}
