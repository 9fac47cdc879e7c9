import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import {
  createPlan,
  fetchCatalog,
  fetchFittingEnclosure,
  fetchPlans,
  fetchRoom,
  fetchSpecies,
  ProblemError,
  startDesign,
} from "../../api/client";
import type {
  DesignRequest,
  EnclosureKind,
  EnclosureSize,
  SetUp,
  StageName,
} from "../../api/types";
import { Header } from "../../app/Header";
import { describe } from "../../app/notices";
import { showSizes } from "../../domain/units/units";
import { capitalized } from "../../domain/words";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Help } from "../../ui/Help";
import { NumberField } from "../../ui/NumberField";
import { NumberFields, type NumberRow } from "../../ui/NumberFields";
import { usePreferences } from "../../ui/preferences";
import { SelectField } from "../../ui/SelectField";
import { SettledMain } from "../../ui/Settled";
import { TextField } from "../../ui/TextField";
import { DesignProgress } from "../design/DesignProgress";
import { SetUps } from "../design/SetUps";
import { useDesign } from "../design/useDesign";
import { useWishes, WishesFields } from "../design/Wishes";
import { SpeciesSearch } from "../species/SpeciesSearch";
import { STAGE } from "../species/schools";

const KINDS: readonly { value: EnclosureKind; label: string }[] = [
  { value: "timber", label: "Timber, glass front, closed lid" },
  { value: "pvc", label: "Expanded PVC, glass front, closed lid" },
  { value: "glass", label: "Glass, mesh lid" },
  { value: "mesh", label: "Mesh on all sides" },
  { value: "table", label: "Open table" },
];
/** One click away: first animals of many keepers. */
const OFTEN: readonly string[] = [
  "pogona-vitticeps",
  "eublepharis-macularius",
  "correlophus-ciliatus",
  "pantherophis-guttatus",
  "python-regius",
  "testudo-hermanni",
];
const STAGES = Object.keys(STAGE) as StageName[];
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

/** Why there is no enclosure, without the place in the request, which is beside it anyway. */
const reasonOf = (error: unknown): string =>
  error instanceof ProblemError && error.problem.fields.length > 0
    ? error.problem.fields.map((f) => f.message).join("; ")
    : describe(error).detail;

/** Where a plan begins: who it is for, in what enclosure, in what room. */
export function NewPlanScreen() {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const { units } = usePreferences();
  // Another screen may have said for whom.
  const [asked] = useSearchParams();
  const [speciesId, setSpeciesId] = useState(asked.get("species"));
  const [stage, setStage] = useState<StageName>(
    STAGES.find((s) => s === asked.get("stage")) ?? "adult",
  );
  const [count, setCount] = useState(Math.min(Math.max(Number(asked.get("count")) || 1, 1), 50));
  const [name, setName] = useState(asked.get("name"));
  const [ownSize, setOwnSize] = useState<EnclosureSize | null>(null);
  const [ownKind, setOwnKind] = useState<EnclosureKind | null>(null);
  const [room, setRoom] = useState({
    day_temperature_c: 22,
    night_temperature_c: 18,
    relative_humidity: 0.45,
  });
  const wishes = useWishes();
  const [chosen, setChosen] = useState(true);
  const design = useDesign();
  useEffect(() => {
    document.title = "A new plan · Noon Shade";
  }, []);
  const catalog = useQuery({
    queryKey: ["catalog"],
    queryFn: fetchCatalog,
    staleTime: Number.POSITIVE_INFINITY,
  });

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

  const choose = (id: string) => {
    setSpeciesId(id);
    setStage("adult");
    setOwnSize(null);
    setOwnKind(null);
    setName(null);
  };
  const species = sheet.data?.species;
  const size = ownSize ?? fitting.data?.size ?? null;
  const kind = ownKind ?? fitting.data?.kind ?? "timber";
  const label = name ?? species?.common_name ?? "";
  const small =
    size !== null &&
    fitting.data !== undefined &&
    (["length_m", "depth_m", "height_m"] as const).some(
      (key) => size[key] < 0.95 * fitting.data.least[key],
    );

  const wanted: DesignRequest | null = speciesId
    ? {
        name: label.slice(0, 80),
        species_id: speciesId,
        stage,
        count,
        school: "overlap",
        size: chosen ? null : size,
        kind: chosen ? null : kind,
        ...wishes.asked,
        seed: 0,
        room: {
          ...room,
          winter: known?.winter ?? null,
          summer: known?.summer ?? null,
          tariff_per_kwh: known?.tariff_per_kwh ?? 0.3,
          months: known?.months ?? [],
          // A room typed by hand is not the stored room.
          follows:
            followed !== null &&
            (["day_temperature_c", "night_temperature_c", "relative_humidity"] as const).every(
              (key) => followed[key] === room[key],
            ),
        },
      }
    : null;

  const take = useMutation({
    mutationFn: (setUp: SetUp) =>
      createPlan(
        { ...setUp.plan, room: wanted?.room ?? setUp.plan.room },
        `Designed: ${setUp.label}`,
      ),
    onSuccess: (plan) => {
      void queries.invalidateQueries({ queryKey: ["plans"] });
      void navigate(`/plans/${plan.id}`);
    },
  });
  const result = design.status?.result ?? null;
  const failed = design.status?.state === "failed" ? design.status.problem : null;
  useEffect(() => {
    // Move the focus to the answer.
    if (result) document.getElementById("set-ups")?.focus();
  }, [result]);

  return (
    <div className="min-h-screen">
      <Header />
      <SettledMain className={`mx-auto p-4 sm:p-6 ${result ? "max-w-7xl" : "max-w-3xl"}`}>
        <h1 className={result ? "sr-only" : "text-2xl font-semibold"}>A new plan</h1>
        {result && (
          <SetUps
            result={result}
            catalog={catalog.data ?? null}
            busy={take.isPending}
            onTake={(setUp) => take.mutate(setUp)}
            onAgain={design.clear}
          />
        )}
        {result && take.isError && <Trouble error={take.error} />}
        {!result && (
          <p className="mt-1 text-soft">
            Say which animal it is for and what your room is like. Set-ups that meet the animal’s
            needs there are computed. You can change everything afterwards.
          </p>
        )}
        <form
          className={result ? "hidden" : "mt-4 space-y-5"}
          onSubmit={(event) => {
            event.preventDefault();
            if (!design.running && wanted) design.start(() => startDesign(wanted));
          }}
        >
          <fieldset className="rounded-xl border border-line bg-panel p-4">
            <legend className="px-1 font-semibold">The animal</legend>
            <div className={GRID}>
              <div>
                <SpeciesSearch
                  label={species ? "Change to" : "Species, by any of its names"}
                  onChoose={choose}
                />
                {!species && catalog.data && (
                  <fieldset className="mt-2">
                    <legend className="text-sm text-soft">Often kept</legend>
                    <div className="mt-1 flex flex-wrap gap-1.5">
                      {catalog.data.species
                        .filter((s) => OFTEN.includes(s.id))
                        .map((s) => (
                          <Button key={s.id} size="small" onClick={() => choose(s.id)}>
                            {s.common_name}
                          </Button>
                        ))}
                    </div>
                  </fieldset>
                )}
              </div>
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
                        {capitalized(h.text)}.
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
                        and refuges, and you need a spare enclosure ready.
                      </Help>
                    }
                  />
                  <TextField label="Name of the plan" value={label} most={80} onCommit={setName} />
                </>
              )}
            </div>
          </fieldset>
          {species && fitting.error !== null && (
            <p
              role="alert"
              className="rounded-lg border border-high bg-high-wash p-3 text-sm"
              data-testid="no-enclosure"
            >
              {reasonOf(fitting.error)}
            </p>
          )}
          {species && size && (
            <>
              <fieldset className="rounded-xl border border-line bg-panel p-4">
                <legend className="px-1 font-semibold">The enclosure</legend>
                <Choice
                  label="Which enclosure"
                  value={chosen ? "chosen" : "given"}
                  onChange={(value) => setChosen(value === "chosen")}
                  options={[
                    { value: "chosen", label: "Choose one for me" },
                    { value: "given", label: "The one I have or want" },
                  ]}
                />
                {!chosen && (
                  <div className={`mt-3 ${GRID}`}>
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
                )}
                {fitting.data && (
                  <p className={`mt-2 text-sm ${small ? "font-semibold text-high" : "text-soft"}`}>
                    {small
                      ? "▼ Smaller than the least size at this stage: "
                      : "The least size at this stage: "}
                    {showSizes(fitting.data.least, units)} ({fitting.data.grade};{" "}
                    {fitting.data.source}).{" "}
                    {!ownSize &&
                      fitting.data.size.height_m > fitting.data.least.height_m &&
                      "More height is proposed, so that lamps have room. "}
                    {ownSize && (
                      <Button size="small" onClick={() => setOwnSize(null)}>
                        Use the proposed size
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
                </div>
                {known && (
                  <p className="mt-2 text-sm text-soft">
                    As in “{plans.data?.[0]?.name}”: the same room, with its winter and summer.
                  </p>
                )}
              </fieldset>
              <WishesFields {...wishes} />
            </>
          )}
          {design.error != null && <Trouble error={design.error} />}
          {failed && (
            <div role="alert" className="rounded-lg border border-high bg-high-wash p-3">
              <p className="font-semibold text-high">No set-up can be made of this</p>
              <p>{capitalized(failed)}.</p>
            </div>
          )}
          <div className="flex flex-wrap items-center gap-3">
            <Button
              type="submit"
              tone="strong"
              disabled={!species || !size || design.running}
              aria-busy={design.running}
            >
              {design.running ? "Looking…" : "Find set-ups"}
            </Button>
          </div>
          {design.running && (
            <DesignProgress
              status={design.status}
              catalog={catalog.data ?? null}
              onStop={design.stop}
            />
          )}
          <p className="border-t border-line pt-3 text-sm text-soft">
            A set-up is a place to start from. Its figures are predictions until you have measured
            them. Fittings, guards and wiring follow local electrical code and a qualified
            electrician; ask a veterinarian who knows reptiles about the animal.
          </p>
        </form>
      </SettledMain>
    </div>
  );
}

function Trouble({ error }: { error: unknown }) {
  const { title, detail } = describe(error);
  return (
    <div role="alert" className="rounded-lg border border-high bg-high-wash p-3">
      <p className="font-semibold text-high">{title}</p>
      <p>{detail}</p>
    </div>
  );
}
