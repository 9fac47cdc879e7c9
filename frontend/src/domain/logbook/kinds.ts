import {
  Bug,
  ChevronsRight,
  Egg,
  Eye,
  HeartPulse,
  type LucideIcon,
  NotebookPen,
  Pill,
  Ruler,
  Scale,
  Shell,
  Stethoscope,
  Wrench,
} from "lucide-react";
import type { LogEntry, LogKind } from "../../api/types";
import { show, type UnitSystem } from "../units/units";

interface KindOfEntry {
  readonly label: string;
  readonly icon: LucideIcon;
  /** What is asked in the field for text. */
  readonly ask: string;
  /** Whether it is about an animal rather than an enclosure. */
  readonly animal: boolean;
}

export const KINDS: Record<LogKind, KindOfEntry> = {
  note: { label: "Note", icon: NotebookPen, ask: "What happened?", animal: false },
  observation: { label: "Seen", icon: Eye, ask: "What did you see?", animal: true },
  meal: { label: "Meal", icon: Bug, ask: "Anything to add", animal: true },
  weight: { label: "Weight", icon: Scale, ask: "Anything to add", animal: true },
  length: { label: "Length", icon: Ruler, ask: "Anything to add", animal: true },
  shed: { label: "Shed", icon: Shell, ask: "Where did skin stay on?", animal: true },
  illness: { label: "Illness", icon: HeartPulse, ask: "What are the signs?", animal: true },
  vet: { label: "Vet visit", icon: Stethoscope, ask: "What was found and said?", animal: true },
  treatment: {
    label: "Treatment",
    icon: Pill,
    ask: "What, how much, by whose order?",
    animal: true,
  },
  breeding: { label: "Breeding", icon: Egg, ask: "Mating, eggs, young", animal: true },
  equipment: {
    label: "Equipment",
    icon: Wrench,
    ask: "What was changed or repaired?",
    animal: false,
  },
  move: { label: "Move", icon: ChevronsRight, ask: "From where to where, and why?", animal: true },
};

export const KIND_NAMES = Object.keys(KINDS) as readonly LogKind[];

export const OUTCOMES: Partial<
  Record<LogKind, readonly { value: LogEntry["outcome"]; label: string }[]>
> = {
  meal: [
    { value: "eaten", label: "Eaten" },
    { value: "partly", label: "In part" },
    { value: "refused", label: "Refused" },
  ],
  shed: [
    { value: "complete", label: "Complete" },
    { value: "incomplete", label: "Not complete" },
  ],
};

/** What an entry says beside its text, in one line. */
export function headline(entry: LogEntry, units: UnitSystem): string {
  const kind = KINDS[entry.kind].label;
  if (entry.kind === "weight" && entry.value != null) return show(entry.value, "mass", units);
  if (entry.kind === "length" && entry.value != null) return show(entry.value, "length", units, 1);
  const outcome = OUTCOMES[entry.kind]?.find((o) => o.value === entry.outcome)?.label.toLowerCase();
  if (entry.kind === "meal") return `${entry.food || "Meal"}: ${outcome ?? ""}`;
  return outcome ? `${kind}, ${outcome}` : kind;
}

/** An entry that a keeper should not pass over. */
export const isWorry = (entry: LogEntry) =>
  entry.kind === "illness" || entry.outcome === "refused" || entry.outcome === "incomplete";
