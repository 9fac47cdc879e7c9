import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import { ClipboardList, Plus, Upload } from "lucide-react";
import { useEffect, useMemo, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { fetchCurves, readLampFile } from "../../api/client";
import type { LampDocument, LibraryLamp } from "../../api/types";
import { ErrorPage } from "../../app/ErrorPage";
import { Header } from "../../app/Header";
import { describe, useNotify } from "../../app/notices";
import { screenOptions } from "../../domain/plan/screens";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { FileButton } from "../../ui/FileButton";
import { Help } from "../../ui/Help";
import { NumberField } from "../../ui/NumberField";
import { SelectField } from "../../ui/SelectField";
import { SettledMain } from "../../ui/Settled";
import { CurveChart, interpolate, type Quantity } from "./CurveChart";
import { blankLamp, copyOf } from "./drafts";
import { LampDetails } from "./LampDetails";
import { LampEditor } from "./LampEditor";
import { HowFar, Readings, WhichLamp } from "./LampFinder";
import { LampList } from "./LampList";
import { MOST_COMPARED, useLibrary } from "./library";

const FIRST = ["t5-strong-85"];

interface Editing {
  draft: LampDocument;
  of: LibraryLamp | null;
  notes: readonly string[];
}

/** The lamp library: what each lamp gives at which distance, and which lamp to take. */
export function LampScreen() {
  const { shelf, catalog, store, remove, trouble } = useLibrary();
  const notify = useNotify();
  const [params, setParams] = useSearchParams();
  const [quantity, setQuantity] = useState<Quantity>("uvi");
  const [uvi, setUvi] = useState(3);
  const [band, setBand] = useState({ low: 2, high: 3 });
  const [hours, setHours] = useState<number | null>(null);
  const [measured, setMeasured] = useState<number | null>(null);
  const [editing, setEditing] = useState<Editing | null>(null);

  useEffect(() => {
    document.title = "Lamps · Noon Shade";
  }, []);

  const known = useMemo(() => new Map(shelf.data?.map((l) => [l.lamp.id, l])), [shelf.data]);
  // Kept here as well as in the address, which only follows after a moment.
  const [asked, setAsked] = useState<readonly string[]>(
    () => params.get("lamps")?.split(",").filter(Boolean) ?? FIRST,
  );
  const [screenId, setScreenId] = useState(() => params.get("screen"));
  const chosen = asked.filter((id) => known.has(id)).slice(0, MOST_COMPARED);
  const screens = catalog.data ? screenOptions(catalog.data) : [];
  const screenName = screens.find((s) => s.value === screenId)?.label ?? null;
  const put = (lamps: readonly string[], screen: string | null) => {
    setAsked(lamps);
    setScreenId(screen);
    const next = new URLSearchParams({ lamps: lamps.join(",") });
    if (screen) next.set("screen", screen);
    setParams(next, { replace: true });
  };
  const toggle = (id: string) =>
    put(chosen.includes(id) ? chosen.filter((c) => c !== id) : [...chosen, id], screenId);

  const revisions = chosen.map((id) => known.get(id)?.revision ?? 0).join();
  const through = screenName ? screenId : null;
  const curves = useQuery({
    queryKey: ["curves", chosen, through, measured, hours, uvi, revisions],
    queryFn: ({ signal }) =>
      fetchCurves(
        { lamp_ids: [...chosen], draft: null, screen_id: through, measured, hours, uvi },
        signal,
      ),
    enabled: shelf.data !== undefined && chosen.length > 0,
    placeholderData: keepPreviousData,
  });

  // Typed, or the usual life of the first lamp that has one; without UV nothing ages.
  const agedHours = hours ?? curves.data?.lamps.find((l) => l.aged_hours)?.aged_hours ?? null;

  const importLamp = useMutation({
    mutationFn: async (file: File) => {
      const read = await readLampFile(file.name, await file.text());
      if (!read.draft) {
        throw new Error(
          "This is a spectrum: open or add a lamp with UVB and read the spectrum there.",
        );
      }
      return { draft: read.draft, notes: read.notes };
    },
    onSuccess: ({ draft, notes }) => setEditing({ draft, of: null, notes }),
    onError: (error, file) => {
      const { title, detail } = describe(error);
      notify({
        title: `${file.name} was not read`,
        detail: `${title}. ${detail}`,
        tone: "trouble",
      });
    },
  });

  if (shelf.isError) return <ErrorPage {...describe(shelf.error)} />;
  return (
    <div className="min-h-screen">
      <Header />
      <SettledMain className="mx-auto max-w-7xl p-4">
        <div className="mb-3 flex flex-wrap items-center gap-3">
          <h1 className="flex-1 text-2xl font-semibold">Lamps</h1>
          <Link
            to="/register"
            className="inline-flex min-h-9 items-center gap-1.5 rounded-md border border-edge bg-raised px-3 font-medium hover:bg-wash"
          >
            <ClipboardList size={17} aria-hidden />
            Lamp register
          </Link>
          <FileButton
            label="Lamp file"
            accept=".json,.ies,.ldt,.csv"
            testId="lamp-file"
            onFile={(file) => importLamp.mutate(file)}
          >
            <Upload size={17} aria-hidden />
            Import a lamp file
          </FileButton>
          <Button
            tone="strong"
            onClick={() => setEditing({ draft: blankLamp(), of: null, notes: [] })}
          >
            <Plus size={17} aria-hidden />
            Add my lamp
          </Button>
        </div>
        <div className="grid gap-5 lg:grid-cols-[19rem_1fr]">
          <div className="order-last lg:order-first">
            {shelf.isPending ? (
              <p className="text-soft">Loading the lamps…</p>
            ) : (
              <LampList lamps={shelf.data} chosen={chosen} onToggle={toggle} />
            )}
          </div>
          <div className="min-w-0 space-y-4">
            <section aria-label="Curves" className="rounded-xl border border-line bg-panel p-4">
              <div className="flex flex-wrap items-end gap-x-5 gap-y-2">
                <Choice
                  label="What is drawn"
                  value={quantity}
                  onChange={setQuantity}
                  options={[
                    { value: "uvi", label: "UV index" },
                    { value: "irradiance", label: "Heat and light" },
                  ]}
                />
                <div className="w-72 max-w-full">
                  <SelectField
                    label="Seen through"
                    value={through ?? ""}
                    options={[{ value: "", label: "No screen" }, ...screens]}
                    onChange={(id) => {
                      setMeasured(null);
                      put(chosen, id || null);
                    }}
                    help={
                      <Help about="screens">
                        Straight through, a mesh passes its open share; at a slant less, which
                        matters most under long tubes. Glass and plastic stop UVB unless made to
                        pass it.
                      </Help>
                    }
                  />
                </div>
                {through && (
                  <NumberField
                    label="Measured: passes"
                    dimension="share"
                    value={measured ?? passes(screens, through)}
                    min={0}
                    max={1}
                    onCommit={setMeasured}
                    help={
                      <Help about="measured share">
                        UV index under the screen divided by that without it, straight below the
                        lamp. It replaces the figure computed from wire and openings.
                      </Help>
                    }
                  />
                )}
                {agedHours !== null && (
                  <NumberField
                    label="Aged"
                    dimension="hours"
                    value={agedHours}
                    min={0}
                    max={20_000}
                    onCommit={setHours}
                    help={
                      <Help about="ageing">
                        The thin lines: the lamp after this many hours, at first the end of its
                        usual life. It looks as bright as ever.
                      </Help>
                    }
                  />
                )}
              </div>
              <div className="mt-3">
                {chosen.length === 0 ? (
                  <p className="py-16 text-center text-soft">Tick a lamp to see its curves.</p>
                ) : curves.isError ? (
                  <p role="alert" className="py-10 text-high">
                    {describe(curves.error).title}: {describe(curves.error).detail}
                  </p>
                ) : curves.data ? (
                  <>
                    <CurveChart
                      curves={curves.data}
                      quantity={quantity}
                      wanted={quantity === "uvi" ? band : null}
                    />
                    <p className="mb-2 text-sm text-soft">
                      Solid: bare.{through && " Dashed: through the screen."} Thin: aged. Shaded:
                      the UV index asked for below. Predictions until measured.
                    </p>
                    <Readings
                      curves={curves.data}
                      screen={screenName}
                      read={(ys, d) => interpolate(curves.data.distance_m, ys, d)}
                    />
                  </>
                ) : (
                  <p className="py-16 text-center text-soft">Computing…</p>
                )}
              </div>
            </section>
            <div className="grid gap-4 xl:grid-cols-2">
              {curves.data && <HowFar curves={curves.data} uvi={uvi} onUvi={setUvi} />}
              <WhichLamp
                band={band}
                onBand={setBand}
                screenId={through}
                measured={measured}
                chosen={chosen}
                onPick={(id) => put([...chosen.slice(0, MOST_COMPARED - 1), id], screenId)}
              />
            </div>
            {chosen.map((id, place) => {
              const lamp = known.get(id);
              return lamp ? (
                <LampDetails
                  key={id}
                  lamp={lamp}
                  place={place}
                  onEdit={() => setEditing({ draft: lamp.document, of: lamp, notes: [] })}
                  onCopy={() => setEditing({ draft: copyOf(lamp.document), of: null, notes: [] })}
                  onRemove={() => {
                    put(
                      chosen.filter((c) => c !== id),
                      screenId,
                    );
                    remove.mutate(lamp);
                  }}
                />
              ) : null;
            })}
            <p className="border-l-4 border-high bg-high-wash px-3 py-2 text-sm">
              <strong>Caution. </strong>
              UVB lamps harm eyes and skin: do not look into them. Hot lamps burn animals and start
              fires: fixed fittings rated for the lamp, a guard, distance to anything that burns.
              Electrical work by local code and a qualified electrician.
            </p>
          </div>
        </div>
      </SettledMain>
      {editing && (
        <LampEditor
          key={editing.draft.id}
          {...editing}
          busy={store.isPending}
          onClose={() => setEditing(null)}
          onSave={async (document) => {
            const saved = await store.mutateAsync({ document, of: editing.of });
            setEditing(null);
            const { of } = editing;
            notify({
              title: of
                ? `${saved.lamp.label} was changed`
                : `${saved.lamp.label} is in the library`,
              tone: "plain",
              ...(of
                ? {
                    action: {
                      label: "Undo",
                      run: () =>
                        store.mutate({ document: of.document, of: saved }, { onError: trouble }),
                    },
                  }
                : {}),
            });
            if (!chosen.includes(saved.lamp.id)) {
              put([...chosen.slice(-(MOST_COMPARED - 1)), saved.lamp.id], screenId);
            }
          }}
        />
      )}
    </div>
  );
}

function passes(screens: ReturnType<typeof screenOptions>, id: string): number {
  return screens.find((s) => s.value === id)?.passes ?? 1;
}
