import { useQuery } from "@tanstack/react-query";
import { Command as List } from "cmdk";
import { Search } from "lucide-react";
import { Dialog } from "radix-ui";
import { useMemo } from "react";
import { useNavigate } from "react-router";
import { fetchCatalog, fetchPlans } from "../api/client";
import type { Command } from "./command";

interface CommandPaletteProps {
  /** What the screens on show offer. */
  offered: readonly Command[];
  onClose: () => void;
}

const SCREENS = [
  ["/", "The room", "enclosures racks home"],
  ["/new", "New plan", "design add an enclosure animal"],
  ["/today", "Today", "tasks due round"],
  ["/logbook", "Logbook", "entries feeding weight shed"],
  ["/lamps", "Lamps", "library bulbs tubes heaters"],
  ["/register", "Installed lamps", "register hours spare"],
  ["/species", "Species", "animals needs sources"],
  ["/practice", "Practice", "puzzles learn"],
  ["/compare", "Compare two enclosures", "side by side revisions"],
  ["/help", "Help", "words glossary keys shortcuts meaning"],
  ["/sample", "The sample enclosure", "example try play demo"],
  ["/backups", "Backups", "restore copy safety"],
] as const;

const searched = (one: Command): string => `${one.label} ${one.words ?? ""} ${one.group}`;

/** Everything that can be done or opened from here, found by its words: arrow keys and Enter choose. */
export function CommandPalette({ offered, onClose }: CommandPaletteProps) {
  const navigate = useNavigate();
  const plans = useQuery({ queryKey: ["plans"], queryFn: fetchPlans });
  const catalog = useQuery({ queryKey: ["catalog"], queryFn: fetchCatalog, staleTime: Infinity });
  const groups = useMemo(() => {
    const go = (to: string) => () => void navigate(to);
    const all: Command[] = [
      ...offered,
      ...SCREENS.map(([to, label, words]) => ({ label, words, group: "Go to", run: go(to) })),
      ...(plans.data ?? []).map((plan) => {
        const species = catalog.data?.species.find((s) => s.id === plan.document.animal.species_id);
        return {
          label: plan.name,
          words: `${species?.common_name ?? ""} ${species?.scientific_name ?? ""}`,
          group: "Enclosures",
          run: go(`/plans/${plan.id}`),
        };
      }),
    ];
    const found = new Map<string, Command[]>();
    for (const one of all) found.set(one.group, [...(found.get(one.group) ?? []), one]);
    return [...found];
  }, [offered, plans.data, catalog.data, navigate]);
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/45" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-[12vh] left-1/2 z-50 flex max-h-[70vh] w-[36rem] max-w-[calc(100vw-1.5rem)] -translate-x-1/2 flex-col overflow-hidden rounded-xl border border-edge bg-panel shadow-xl"
        >
          <Dialog.Title className="sr-only">Find an enclosure or an action</Dialog.Title>
          <List label="Find an enclosure or an action" loop className="flex min-h-0 flex-col">
            <div className="flex items-center gap-2 border-b border-line px-3">
              <Search size={18} aria-hidden className="text-soft" />
              <List.Input
                autoFocus
                placeholder="An enclosure, a screen, an action…"
                className="h-12 flex-1 bg-transparent outline-none"
              />
            </div>
            <List.List className="min-h-0 overflow-y-auto p-1.5">
              <List.Empty className="p-4 text-soft">
                Nothing here is called that. Try another word, as “humidity” or “hide”.
              </List.Empty>
              {groups.map(([group, commands]) => (
                <List.Group
                  key={group}
                  heading={group}
                  className="[&_[cmdk-group-heading]]:px-2.5 [&_[cmdk-group-heading]]:pt-1.5 [&_[cmdk-group-heading]]:text-xs [&_[cmdk-group-heading]]:text-soft"
                >
                  {commands.map((one) => (
                    <List.Item
                      // Made anew when its words arrive late: what is filtered by then is only looked at again so.
                      key={searched(one)}
                      value={searched(one)}
                      onSelect={() => {
                        onClose();
                        one.run();
                      }}
                      className="flex min-h-9 cursor-pointer items-center justify-between gap-4 rounded-md px-2.5 data-[selected=true]:bg-wash pointer-coarse:min-h-11"
                    >
                      {one.label}
                      {one.keys && <span className="text-sm text-soft">{one.keys}</span>}
                    </List.Item>
                  ))}
                </List.Group>
              ))}
            </List.List>
          </List>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
