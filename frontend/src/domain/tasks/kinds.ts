import {
  BellRing,
  Bug,
  CalendarClock,
  CircleCheck,
  CloudRain,
  Droplets,
  Lightbulb,
  type LucideIcon,
  PawPrint,
  Plug,
  Scale,
  Shovel,
  Sparkles,
  SprayCan,
  Thermometer,
  ThermometerSun,
  Wheat,
} from "lucide-react";
import type { TaskKind } from "../../api/types";

export const TASK_KINDS: Record<TaskKind, { label: string; icon: LucideIcon }> = {
  water: { label: "Water", icon: Droplets },
  feeding: { label: "Feeding", icon: Bug },
  dusting: { label: "Dusting", icon: Wheat },
  misting: { label: "Misting", icon: CloudRain },
  spot_clean: { label: "Spot clean", icon: Sparkles },
  full_clean: { label: "Full clean", icon: SprayCan },
  substrate: { label: "Ground", icon: Shovel },
  weighing: { label: "Weighing", icon: Scale },
  readings: { label: "Readings", icon: Thermometer },
  lamp: { label: "Lamp", icon: Lightbulb },
  thermostat: { label: "Thermostat test", icon: ThermometerSun },
  smoke_alarm: { label: "Smoke alarm", icon: BellRing },
  residual_current: { label: "Residual-current device", icon: Plug },
  timer: { label: "Timers", icon: CalendarClock },
  arrival: { label: "New arrival", icon: PawPrint },
  own: { label: "Something else", icon: CircleCheck },
};

export const TASK_KIND_NAMES = Object.keys(TASK_KINDS) as readonly TaskKind[];

/** Why a task is skipped: the usual reasons. */
export const REASONS = ["in its rest", "before a shed", "not needed today", "no time"] as const;
