import { useMemo } from "react";
import type { PlanDocument } from "../../api/types";
import type { Command } from "../../app/command";
import { useCommands } from "../../app/commands";
import type { FieldName } from "../../canvas/fields";
import { fixturesOf, furnishingsOf, thermostatsOf } from "../../domain/plan/document";
import { furnishingKey } from "../../domain/plan/furnishings";
import type { Drawer } from "./DrawerTabs";
import type { ItemClipboard } from "./itemClipboard";
import { PARTS } from "./parts";
import { FIELDS, type SeenFrom, VIEWS } from "./Toolbar";

interface PlanCommands {
  document: PlanDocument;
  undo: () => void;
  redo: () => void;
  onLayer: (field: FieldName) => void;
  onSeenFrom: (from: SeenFrom) => void;
  onDrawer: (drawer: Drawer) => void;
  onSelect: (key: string) => void;
  onRevisions: () => void;
  clipboard: ItemClipboard;
}

/** What the palette offers on an open plan. */
export function usePlanCommands(plan: PlanCommands): void {
  const { document: d, undo, redo, onLayer, onSeenFrom, onDrawer, onSelect, onRevisions } = plan;
  const { clipboard } = plan;
  const commands = useMemo<readonly Command[]>(
    () => [
      ...[
        ...fixturesOf(d).map((f) => [f.id, f.label] as const),
        ...thermostatsOf(d).map((t) => [t.id, t.label] as const),
        ...furnishingsOf(d).map((f) => [furnishingKey(f.id), f.label] as const),
        ...PARTS.map((part) => [part.id, part.label] as const),
      ].map(([key, label]) => ({
        label: `Edit: ${label}`,
        group: "In this enclosure",
        run: () => onSelect(key),
      })),
      ...FIELDS.map(({ value, label }) => ({
        label: `Show: ${label}`,
        group: "Drawing",
        words: "layer field",
        run: () => onLayer(value),
      })),
      ...VIEWS.map(({ value, label }) => ({
        label: `View: ${label}`,
        group: "Drawing",
        run: () => onSeenFrom(value),
      })),
      ...(
        [
          ["day", "The day", "hours curve night"],
          ["time", "All conditions", "seasons winter summer old lamps"],
          ["whatIf", "What if", "failure power cut"],
          ["build", "To build", "buy parts cost order"],
        ] as const
      ).map(([drawer, label, words]) => ({
        label,
        words,
        group: "Drawing",
        run: () => onDrawer(drawer),
      })),
      { label: "Undo", group: "Plan", keys: "Ctrl Z", run: undo },
      { label: "Redo", group: "Plan", keys: "Ctrl Y", run: redo },
      { label: "Copy what is selected", group: "Plan", keys: "Ctrl C", run: clipboard.copy },
      { label: "Paste", group: "Plan", keys: "Ctrl V", run: clipboard.paste },
      { label: "Revisions", group: "Plan", words: "history older", run: onRevisions },
    ],
    [d, undo, redo, onLayer, onSeenFrom, onDrawer, onSelect, onRevisions, clipboard],
  );
  useCommands(commands);
}
