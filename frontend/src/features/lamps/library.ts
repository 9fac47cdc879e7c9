/** The lamps there are, and the ways to change the keeper's own. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import {
  bringBackLamp,
  createLamp,
  fetchCatalog,
  fetchLampLibrary,
  removeLamp,
  saveLamp,
} from "../../api/client";
import type { LampDocument, LibraryLamp } from "../../api/types";
import { describe, useNotify } from "../../app/notices";

export const KINDS: readonly { value: string; label: string }[] = [
  { value: "tube", label: "Tubes" },
  { value: "compact", label: "Compacts" },
  { value: "bulb", label: "Heat bulbs" },
  { value: "mercury vapour", label: "Mercury vapour" },
  { value: "metal halide", label: "Metal halide" },
  { value: "led", label: "LED" },
  { value: "heater", label: "Lightless heaters" },
  { value: "mat", label: "Mats and cables" },
];

/** Colour, dash and mark of the lamps that are looked at side by side. */
export const STYLES = [
  { stroke: "stroke-first", fill: "fill-first", text: "text-first", mark: "●" },
  { stroke: "stroke-second", fill: "fill-second", text: "text-second", mark: "◆" },
  { stroke: "stroke-third", fill: "fill-third", text: "text-third", mark: "▲" },
] as const;
export const MOST_COMPARED = STYLES.length;

export function useLibrary() {
  const queries = useQueryClient();
  const notify = useNotify();
  const shelf = useQuery({ queryKey: ["shelf"], queryFn: fetchLampLibrary, staleTime: 0 });
  const catalog = useQuery({ queryKey: ["catalog"], queryFn: fetchCatalog, staleTime: Infinity });
  const refresh = () =>
    Promise.all([
      queries.invalidateQueries({ queryKey: ["shelf"] }),
      queries.invalidateQueries({ queryKey: ["catalog"] }),
      queries.invalidateQueries({ queryKey: ["room-results"] }),
      queries.invalidateQueries({ queryKey: ["curves"] }),
    ]);
  const trouble = (error: unknown) => notify({ ...describe(error), tone: "trouble" });

  const store = useMutation({
    mutationFn: ({ document, of }: { document: LampDocument; of: LibraryLamp | null }) =>
      of && of.revision !== null
        ? saveLamp(of.lamp.id, document, of.revision)
        : createLamp(document),
    onSuccess: refresh,
  });
  const restore = useMutation({
    mutationFn: bringBackLamp,
    onSuccess: refresh,
    onError: trouble,
  });
  const remove = useMutation({
    mutationFn: (lamp: LibraryLamp) => removeLamp(lamp.lamp.id),
    onSuccess: (_, lamp) => {
      void refresh();
      notify({
        title: `${lamp.lamp.label} was removed`,
        detail: lamp.used_in.length > 0 ? "Plans that use it keep it." : undefined,
        tone: "plain",
        action: {
          label: "Bring it back",
          run: () => restore.mutate(lamp.lamp.id),
        },
      });
    },
    onError: trouble,
  });
  return { shelf, catalog, store, remove, trouble };
}

/** The numbers a keeper knows a lamp by, in a line. */
export function inShort(lamp: LibraryLamp["lamp"]): string {
  const watts =
    lamp.power_min_w === lamp.power_max_w
      ? `${lamp.power_w.toFixed(0)} W`
      : `${lamp.power_min_w.toFixed(0)}–${lamp.power_max_w.toFixed(0)} W`;
  return lamp.uvi_at_reference === null ? `${watts}, no UVB` : watts;
}
