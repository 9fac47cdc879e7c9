import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import {
  createPlan,
  fetchFittingEnclosure,
  fetchPlans,
  fetchRoom,
  fetchSpecies,
  startPlan,
} from "../../api/client";
import type { EnclosureKind, EnclosureSize, PlanDocument, StageName } from "../../api/types";
import { Header } from "../../app/Header";
import { describe } from "../../app/notices";
import { applyFixes as improvedBy } from "../../domain/plan/applyFixes";
import { showSizes } from "../../domain/units/units";
import { Button } from "../../ui/Button";
import { CheckField } from "../../ui/CheckField";
import { Help } from "../../ui/Help";
import { NumberField } from "../../ui/NumberField";
import { NumberFields, type NumberRow } from "../../ui/NumberFields";
import { usePreferences } from "../../ui/preferences";
import { SelectField } from "../../ui/SelectField";
import { TextField } from "../../ui/TextField";
import { SpeciesSearch } from "../species/SpeciesSearch";
import { STAGE } from "../species/schools";

const KINDS: readonly { value: EnclosureKind; label: string }[] = [
  { value: "timber", label: "Timber, glass front, closed lid" },
  { value: "pvc", label: "Expanded PVC, glass front, closed lid" },
  { value: "glass", label: "Glass, mesh lid" },
  { value: "mesh", label: "Mesh on all sides" },
  { value: "table", label: "Open table" },
];
const GRID = "grid grid-cols-1 gap-x-6 gap-y-3 sm:grid-cols-2";

const ROOM_ROWS: readonly NumberRow<{
  day_temperature_c: number;
  night_temperature_c: number;
  relative_humidity: number;
}>[] = [
  {
    key: "day_temperature_c",
    label: "Warmest by day",
    dimension: "temperature",
    min: -10,
    max: 45,
  },
  {
    key: "night_temperature_c",
    label: "Coolest at night",
    dimension: "temperature",
    min: -10,
    max: 45,
  },
  {
    key: "relative_humidity",
    label: "Humidity of the room",
    dimension: "share",
    min: 0.05,
    max: 1,
  },
];

/** Where a plan begins: who it is for, in what enclosure, in what room. */
export function NewPlanScreen() {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const { units } = usePreferences();
  const [speciesId, setSpeciesId] = useState<string | null>(null);
  const [stage, setStage] = useState<StageName>("adult");
  const [count, setCount] = useState(1);
  const [name, setName] = useState<string | null>(null);
  const [ownSize, setOwnSize] = useState<EnclosureSize | null>(null);
  const [ownKind, setOwnKind] = useState<EnclosureKind | null>(null);
  const [room, setRoom] = useState({
    day_temperature_c: 22,
    night_temperature_c: 18,
    relative_humidity: 0.45,
  });
  const [improve, setImprove] = useState(true);
  const [progress, setProgress] = useState<string | null>(null);
  const stop = useRef<AbortController | null>(null);
  const [improving, setImproving] = useState(false);
  useEffect(() => {
    document.title = "A new plan · Noon Shade";
    return () => stop.current?.abort();
  }, []);

  const sheet = useQuery({
    queryKey: ["species", speciesId],
    queryFn: () => fetchSpecies(speciesId ?? ""),
    enabled: speciesId !== null,
  });
  const fitting = useQuery({
    queryKey: ["fitting", speciesId, count, stage],
    queryFn: () => fetchFittingEnclosure(speciesId ?? "", count, stage),
    enabled: speciesId !== null,
  });
  // The room as the last enclosure has it: it is the same room.
  const plans = useQuery({ queryKey: ["plans"], queryFn: fetchPlans });
  const whole = useQuery({ queryKey: ["room"], queryFn: fetchRoom });
  const followed = whole.data?.followed ?? null;
  const known = followed ?? (whole.isSuccess ? plans.data?.[0]?.document.room : undefined);
  const [roomTaken, setRoomTaken] = useState(false);
  useEffect(() => {
    if (!known || roomTaken) return;
    setRoomTaken(true);
    const { day_temperature_c, night_temperature_c, relative_humidity } = known;
    setRoom({ day_temperature_c, night_temperature_c, relative_humidity });
  }, [known, roomTaken]);

  const species = sheet.data?.species;
  const size = ownSize ?? fitting.data?.size ?? null;
  const kind = ownKind ?? fitting.data?.kind ?? "timber";
  const label = name ?? species?.common_name ?? "";
  const small =
    size !== null &&
    fitting.data !== undefined &&
    (["length_m", "depth_m", "height_m"] as const).some(
      (key) => size[key] < 0.95 * fitting.data.size[key],
    );

  const make = useMutation({
    mutationFn: async () => {
      if (!speciesId || !size) throw new Error("Choose an animal first.");
      setProgress("Furnishing the enclosure and choosing lamps…");
      const wanted = { ...room, winter: known?.winter ?? null, summer: known?.summer ?? null };
      let document = await startPlan({
        name: label.slice(0, 80),
        species_id: speciesId,
        stage,
        count,
        size,
        kind,
        room: {
          ...wanted,
          tariff_per_kwh: known?.tariff_per_kwh ?? 0.3,
          months: known?.months ?? [],
          // A room typed by hand is not the stored room.
          follows:
            followed !== null &&
            (["day_temperature_c", "night_temperature_c", "relative_humidity"] as const).every(
              (key) => followed[key] === room[key],
            ),
        },
      });
      if (improve) document = await applyFixes(document);
      return createPlan(document, "Started from a proposed layout");
    },
    onSuccess: (plan) => {
      void queries.invalidateQueries({ queryKey: ["plans"] });
      void navigate(`/plans/${plan.id}`);
    },
    onSettled: () => setProgress(null),
  });

  /** The layout with every fix that breaks nothing; stopping keeps what was done so far. */
  async function applyFixes(first: PlanDocument): Promise<PlanDocument> {
    const controller = new AbortController();
    stop.current = controller;
    setImproving(true);
    try {
      return await improvedBy(first, controller.signal, setProgress);
    } finally {
      stop.current = null;
      setImproving(false);
    }
  }

  return (
    <div className="min-h-screen">
      <Header />
      <main className="mx-auto max-w-3xl p-4 sm:p-6">
        <h1 className="text-2xl font-semibold">A new plan</h1>
        <p className="mt-1 text-soft">
          Say who it is for. An enclosure, its furnishing and its lamps are proposed from the
          animal's way of life; everything can be changed afterwards.
        </p>
        <form
          className="mt-4 space-y-5"
          onSubmit={(event) => {
            event.preventDefault();
            if (!make.isPending) make.mutate();
          }}
        >
          <fieldset className="rounded-xl border border-line bg-panel p-4">
            <legend className="px-1 font-semibold">The animal</legend>
            <div className={GRID}>
              <SpeciesSearch
                label={species ? "Change to" : "Species, by any of its names"}
                onChoose={(id) => {
                  setSpeciesId(id);
                  setStage("adult");
                  setOwnSize(null);
                  setOwnKind(null);
                  setName(null);
                }}
              />
              <div className="min-w-0" data-testid="chosen-species">
                {species ? (
                  <>
                    <p className="leading-tight font-semibold">
                      {species.common_name}
                      <br />
                      <i className="font-normal">{species.scientific_name}</i>
                    </p>
                    <p className="mt-1 text-sm text-soft">{species.way_of_life}</p>
                    {species.hints.map((h) => (
                      <p key={h.text} className="mt-1 text-sm font-medium text-high">
                        {h.text.charAt(0).toUpperCase() + h.text.slice(1)}.
                      </p>
                    ))}
                  </>
                ) : (
                  <p className="pt-6 text-sm text-soft">
                    {sheet.isFetching ? "Looking it up…" : "No animal is chosen yet."}
                  </p>
                )}
              </div>
              {species && (
                <>
                  <SelectField
                    label="Stage"
                    value={stage}
                    options={species.stages.map((s) => ({ value: s.id, label: STAGE[s.id] }))}
                    onChange={(id) => setStage(id as StageName)}
                  />
                  <NumberField
                    label="Animals in this enclosure"
                    dimension="count"
                    value={count}
                    min={1}
                    max={50}
                    onCommit={(n) => setCount(Math.round(n))}
                    help={
                      <Help about="keeping together">
                        Most species live alone. In a group each animal needs its own basking spot
                        and refuges, and a spare enclosure must be ready.
                      </Help>
                    }
                  />
                  <TextField label="Name of the plan" value={label} most={80} onCommit={setName} />
                </>
              )}
            </div>
          </fieldset>
          {species && size && (
            <>
              <fieldset className="rounded-xl border border-line bg-panel p-4">
                <legend className="px-1 font-semibold">The enclosure</legend>
                <div className={GRID}>
                  <SelectField
                    label="Kind"
                    value={kind}
                    options={KINDS}
                    onChange={(value) => setOwnKind(value as EnclosureKind)}
                  />
                  {(
                    [
                      ["length_m", "Length inside", 5],
                      ["depth_m", "Depth inside", 3],
                      ["height_m", "Height inside", 3],
                    ] as const
                  ).map(([key, text, most]) => (
                    <NumberField
                      key={key}
                      label={text}
                      dimension="length"
                      value={size[key]}
                      min={0.15}
                      max={most}
                      onCommit={(m) => setOwnSize({ ...size, [key]: m })}
                    />
                  ))}
                </div>
                {fitting.data && (
                  <p className={`mt-2 text-sm ${small ? "font-semibold text-high" : "text-soft"}`}>
                    {small
                      ? "▼ Smaller than the least at this stage: "
                      : "The least at this stage: "}
                    {showSizes(fitting.data.size, units)} ({fitting.data.grade};{" "}
                    {fitting.data.source}).{" "}
                    {ownSize && (
                      <Button size="small" onClick={() => setOwnSize(null)}>
                        Take the least
                      </Button>
                    )}
                  </p>
                )}
              </fieldset>
              <fieldset className="rounded-xl border border-line bg-panel p-4">
                <legend className="px-1 font-semibold">The room around it</legend>
                <div className={GRID}>
                  <NumberFields
                    rows={ROOM_ROWS}
                    of={room}
                    onCommit={(part) => setRoom({ ...room, ...part })}
                  />
                  <CheckField
                    label="Apply every fix that breaks nothing"
                    checked={improve}
                    onChange={setImprove}
                    help={
                      <Help about="fixing">
                        The proposed layout is computed; what fails and can be fixed without
                        breaking anything is changed, one thing after the other. It may take a
                        minute and can be stopped.
                      </Help>
                    }
                  />
                </div>
                {known && (
                  <p className="mt-2 text-sm text-soft">
                    As in “{plans.data?.[0]?.name}”: the same room, with its winter and summer.
                  </p>
                )}
              </fieldset>
            </>
          )}
          {make.isError && (
            <div role="alert" className="rounded-lg border border-high bg-high-wash p-3">
              <p className="font-semibold text-high">{describe(make.error).title}</p>
              <p>{describe(make.error).detail}</p>
            </div>
          )}
          <div className="flex flex-wrap items-center gap-3">
            <Button
              type="submit"
              tone="strong"
              disabled={!species || !size || make.isPending}
              aria-busy={make.isPending}
            >
              {make.isPending ? "Working…" : "Propose a layout"}
            </Button>
            {improving && (
              <Button onClick={() => stop.current?.abort()}>Stop and take it as it is</Button>
            )}
            <p role="status" className="text-sm text-soft">
              {progress}
            </p>
          </div>
          <p className="border-t border-line pt-3 text-sm text-soft">
            A proposal is a place to start from, and its figures are predictions until they are
            measured. Fittings, guards and wiring follow local electrical code and a qualified
            electrician; doubts about the animal belong to a veterinarian who knows reptiles.
          </p>
        </form>
      </main>
    </div>
  );
}
