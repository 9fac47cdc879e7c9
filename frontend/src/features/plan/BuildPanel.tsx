import { Fragment } from "react";
import { fetchBuilding } from "../../api/client";
import type { Building, PlanDocument } from "../../api/types";
import { useLatest } from "../../api/useLatest";
import { fixed } from "../../domain/units/units";
import { Trouble } from "./day/DayPanel";
import { Phrase } from "./Phrase";

type Group = Building["parts"][number]["group"];

const GROUP: Record<Group, string> = {
  enclosure: "Enclosure",
  lamps: "Lamps and heaters",
  control: "Control",
  ground: "Ground",
  furnishing: "Furnishing",
  moisture: "Moisture and cooling",
  safety: "Safety",
  instruments: "To measure with",
};
const ASK = {
  electrician: "Ask a qualified electrician.",
  veterinarian: "Ask a veterinarian who knows reptiles.",
};

/** What to buy, what it draws and costs, what to do in which order, and the cautions. */
export function BuildPanel({ document }: { document: PlanDocument }) {
  const { result, error, pending } = useLatest("build", document, fetchBuilding);
  return (
    <div className="px-3 pb-4" data-testid="build" data-pending={pending || !result}>
      {error !== null && <Trouble error={error} />}
      {!result && error === null && (
        <p role="status" className="text-soft">
          Counting parts and computing a day of power…
        </p>
      )}
      {result && (
        <div className="grid gap-x-8 gap-y-4 xl:grid-cols-2">
          <div>
            <h2 className="font-semibold">What to buy</h2>
            <PartList parts={result.parts} />
            <RunningCost running={result.running} />
          </div>
          <div>
            <h2 className="font-semibold">What to do, in this order</h2>
            <Steps steps={result.steps} />
            <h2 className="mt-4 font-semibold">Cautions</h2>
            <ul className="mt-1 list-disc space-y-1 pl-5 text-sm">
              {result.cautions.map((c) => (
                <li key={c.id}>
                  <Phrase parts={c.text} />
                  {c.ask && <span className="text-soft"> {ASK[c.ask]}</span>}
                </li>
              ))}
            </ul>
          </div>
        </div>
      )}
    </div>
  );
}

function PartList({ parts }: { parts: Building["parts"] }) {
  const groups = [...new Set(parts.map((p) => p.group))];
  return (
    <table className="mt-1 w-full text-sm">
      <caption className="sr-only">Parts</caption>
      <tbody>
        {groups.map((group) => (
          <Fragment key={group}>
            <tr>
              <th colSpan={2} className="pt-2 text-left font-medium text-soft">
                {GROUP[group]}
              </th>
            </tr>
            {parts
              .filter((p) => p.group === group)
              .map((p, i) => (
                <tr key={i} className="border-t border-line align-top">
                  <td className="w-10 py-1 pr-2 text-right font-semibold">{p.count} ×</td>
                  <td className="py-1">
                    {p.label}
                    {p.detail.length > 0 && (
                      <span className="text-soft">
                        {": "}
                        <Phrase parts={p.detail} />
                      </span>
                    )}
                    {p.why && <span className="block text-soft">{p.why}</span>}
                  </td>
                </tr>
              ))}
          </Fragment>
        ))}
      </tbody>
    </table>
  );
}

function RunningCost({ running: r }: { running: Building["running"] }) {
  return (
    <section aria-label="Power and cost" className="mt-4">
      <h2 className="font-semibold">Power and cost</h2>
      <p className="text-sm" data-testid="running-cost">
        <b>{fixed(r.connected_w, 0)} W</b> connected, at most {fixed(r.most_w, 0)} W at one time.{" "}
        <b>{fixed(r.month_kwh, 0)} kWh</b> and <b>{fixed(r.month_cost, 2)}</b> a month, at{" "}
        {fixed(r.tariff_per_kwh, 2, true)} per kWh in your money
        {r.regulated ? "." : ", if nothing were regulated."}
      </p>
      <table className="mt-1 w-full text-sm">
        <caption className="sr-only">Each lamp and heater</caption>
        <thead>
          <tr className="text-left text-soft">
            <th className="font-medium">Lamp or heater</th>
            <th className="text-right font-medium">W</th>
            <th className="text-right font-medium">On, h a day</th>
            <th className="text-right font-medium">At work</th>
            <th className="text-right font-medium">kWh a month</th>
          </tr>
        </thead>
        <tbody>
          {r.loads.map((load) => (
            <tr key={load.id} className="border-t border-line">
              <th className="py-1 text-left font-normal">{load.label}</th>
              <td className="text-right">{fixed(load.power_w, 0)}</td>
              <td className="text-right">{fixed(load.on_h, 1, true)}</td>
              <td className="text-right">{fixed(100 * load.duty, 0)} %</td>
              <td className="text-right">{fixed(load.month_kwh, 1)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Steps({ steps }: { steps: Building["steps"] }) {
  return (
    <ol className="mt-1 list-decimal space-y-2 pl-5 text-sm marker:font-semibold">
      {steps.map((step) => (
        <li key={step.id}>
          <b className="font-semibold">{step.title}</b>
          {step.why && <span className="text-soft"> · {step.why}</span>}
          <ul className="list-disc pl-4">
            {step.details.map((detail, i) => (
              <li key={i}>
                <Phrase parts={detail} />
              </li>
            ))}
          </ul>
        </li>
      ))}
    </ol>
  );
}
