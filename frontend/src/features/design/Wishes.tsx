import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { fetchRegister } from "../../api/installedLamps";
import type { DesignRequest, Never } from "../../api/types";
import { isoDay } from "../../domain/logbook/days";
import { CheckField } from "../../ui/CheckField";
import { NumberField } from "../../ui/NumberField";

/** What a keeper may not want to be used at all. */
const NEVER: readonly { value: Never; label: string }[] = [
  { value: "mats", label: "Heat mats and cables" },
  { value: "ceramics", label: "Ceramic heaters" },
  { value: "mercury", label: "Lamps that hold mercury (tubes, compact and discharge lamps)" },
  { value: "misting", label: "Spraying" },
];

interface ReadyKind {
  lamp_id: string;
  label: string;
  count: number;
}

interface Wishes {
  never: readonly Never[];
  setNever: (next: readonly Never[]) => void;
  ready: readonly ReadyKind[];
  readyFirst: boolean;
  setReadyFirst: (on: boolean) => void;
  /** Money; 0 for no limit. */
  budget: number;
  setBudget: (money: number) => void;
  /** All as a request takes them. */
  asked: Pick<DesignRequest, "never" | "owned" | "budget">;
}

/** What is never to be used, the spare lamps of the register, which go first, and the budget. */
export function useWishes(): Wishes {
  const [never, setNever] = useState<readonly Never[]>([]);
  const [readyFirst, setReadyFirst] = useState(true);
  const [budget, setBudget] = useState(0);
  const on = isoDay();
  const register = useQuery({ queryKey: ["register", on], queryFn: () => fetchRegister(on) });
  const kinds = new Map<string, ReadyKind>();
  for (const one of register.data?.installed_lamps ?? []) {
    if (one.state !== "spare") continue;
    const { lamp_id } = one.installed_lamp;
    const known = kinds.get(lamp_id);
    kinds.set(lamp_id, { lamp_id, label: one.lamp_label, count: (known?.count ?? 0) + 1 });
  }
  const ready = [...kinds.values()];
  const owned = readyFirst ? ready.map(({ lamp_id, count }) => ({ lamp_id, count })) : [];
  return {
    never,
    setNever,
    ready,
    readyFirst,
    setReadyFirst,
    budget,
    setBudget,
    asked: { never: [...never], owned, budget: budget || null },
  };
}

/** Asks for all of them. */
export function WishesFields(wishes: Wishes) {
  const { never, setNever, ready, readyFirst, setReadyFirst, budget, setBudget } = wishes;
  return (
    <details className="rounded-xl border border-line bg-panel p-4">
      <summary className="cursor-pointer font-semibold">
        Budget, spare lamps, what is never to be used
      </summary>
      <div className="mt-3 max-w-xs">
        <NumberField
          label="Lamps, heaters and thermostats may cost (0: no limit)"
          dimension="count"
          value={budget}
          min={0}
          max={100_000}
          onCommit={setBudget}
        />
      </div>
      <p className="mt-1 text-sm text-soft">
        In money of which a kWh costs about 0.30. Prices are rules of thumb: ask in the shop.
      </p>
      {ready.length > 0 && (
        <div className="mt-4">
          <CheckField
            label="Use spares of the register first"
            checked={readyFirst}
            onChange={setReadyFirst}
          />
          <p className="mt-1 text-sm text-soft">
            {ready.map((r) => (r.count > 1 ? `${r.count} × ${r.label}` : r.label)).join("; ")}. They
            are used where they do about as well as others.
          </p>
        </div>
      )}
      <fieldset className="mt-4">
        <legend className="text-sm text-soft">Never to be used</legend>
        <div className="mt-1 grid grid-cols-1 gap-2 sm:grid-cols-2">
          {NEVER.map(({ value, label }) => (
            <CheckField
              key={value}
              label={label}
              checked={never.includes(value)}
              onChange={(on) => setNever(on ? [...never, value] : never.filter((n) => n !== value))}
            />
          ))}
        </div>
      </fieldset>
    </details>
  );
}
