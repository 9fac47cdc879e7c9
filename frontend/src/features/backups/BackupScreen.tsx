import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Download, ShieldCheck, Upload } from "lucide-react";
import { AlertDialog } from "radix-ui";
import { useEffect, useState } from "react";
import {
  checkBackup,
  fetchBackups,
  makeBackup,
  restoreBackup,
  restoreFile,
  setSchedule,
} from "../../api/backups";
import type { BackupList, BackupSchedule, CheckedBackup } from "../../api/types";
import { Header } from "../../app/Header";
import { describe, useNotify } from "../../app/notices";
import { fixed } from "../../domain/units/units";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { FileButton } from "../../ui/FileButton";
import { NumberField } from "../../ui/NumberField";
import { SettledMain } from "../../ui/Settled";

const DAY_MS = 86_400_000;
/** After so long without a backup the screen warns. */
const OLD_DAYS = 14;
const WORKING = {
  making: "Backing up and checking…",
  checking: "Checking…",
  restoring: "Restoring…",
  saving: "Saving…",
};

type Work = { name: string; what: keyof typeof WORKING } | null;
interface Change {
  work: NonNullable<Work>;
  run: () => Promise<unknown>;
}

/** The backup that is about to be restored. */
type Target = { name: string; run: () => Promise<string> } | null;

/** Make, check, schedule and restore backups. */
export function BackupScreen() {
  const cache = useQueryClient();
  const notify = useNotify();
  const list = useQuery({ queryKey: ["backups"], queryFn: fetchBackups, staleTime: 0 });
  const [target, setTarget] = useState<Target>(null);
  const [checked, setChecked] = useState<ReadonlyMap<string, CheckedBackup>>(new Map());
  const [previous, setPrevious] = useState<string | null>(null);
  useEffect(() => {
    document.title = "Backups · Noon Shade";
  }, []);
  const change = useMutation({
    mutationFn: ({ run }: Change) => run(),
    onError: (error) => notify({ ...describe(error), tone: "trouble" }),
    onSettled: () => cache.invalidateQueries({ queryKey: ["backups"] }),
  });
  const work = change.isPending ? change.variables.work : null;
  const show = (found: CheckedBackup) =>
    setChecked((all) => new Map(all).set(found.archive.name, found));
  const restore = ({ name, run }: NonNullable<Target>) =>
    change.mutate({
      work: { name, what: "restoring" },
      run: async () => {
        setPrevious(await run());
        // Whatever was read before may differ now.
        await cache.resetQueries();
      },
    });

  return (
    <div className="flex min-h-screen flex-col">
      <Header />
      <SettledMain className="mx-auto w-full max-w-4xl flex-1 space-y-4 p-3 sm:p-4">
        <h1 className="text-2xl font-semibold">Backups</h1>
        {list.isError && (
          <p role="alert" className="text-high">
            {describe(list.error).title}: {describe(list.error).detail}
          </p>
        )}
        {previous && (
          <p role="status" className="border-l-4 border-fit bg-fit-wash px-3 py-2">
            Everything is as in the backup. The data from before are in{" "}
            <code className="break-all">{previous}</code>.
          </p>
        )}
        {list.data && (
          <>
            <Now
              list={list.data}
              work={work}
              onMake={() =>
                change.mutate({
                  work: { name: "", what: "making" },
                  run: async () => show(await makeBackup()),
                })
              }
            />
            <section
              aria-label="Backups made"
              className="rounded-xl border border-line bg-panel p-4"
            >
              <h2 className="text-lg font-semibold">Backups</h2>
              {list.data.archives.length === 0 && <p className="text-soft">None yet.</p>}
              <ul className="divide-y divide-line">
                {list.data.archives.map((archive) => (
                  <Row
                    key={archive.name}
                    archive={archive}
                    checked={checked.get(archive.name)}
                    work={work}
                    onCheck={() =>
                      change.mutate({
                        work: { name: archive.name, what: "checking" },
                        run: async () => show(await checkBackup(archive.name)),
                      })
                    }
                    onRestore={() =>
                      setTarget({
                        name: momentText(archive.made_at),
                        run: () => restoreBackup(archive.name),
                      })
                    }
                  />
                ))}
              </ul>
              <p className="mt-2 text-sm text-soft">
                They are in <code className="break-all">{list.data.folder}</code>, on the same disk
                as the data: copy one to another machine now and then. They are ZIP files with an
                SQLite database.
              </p>
              <div className="mt-3">
                <FileButton
                  label="Backup file"
                  accept=".zip,application/zip"
                  testId="restore-file"
                  disabled={work !== null}
                  onFile={(file) => setTarget({ name: file.name, run: () => restoreFile(file) })}
                >
                  <Upload size={17} aria-hidden /> Restore a backup file
                </FileButton>
              </div>
            </section>
            <Schedule
              schedule={list.data.schedule}
              onChange={(schedule) =>
                change.mutate({
                  work: { name: "", what: "saving" },
                  run: () => setSchedule(schedule),
                })
              }
            />
          </>
        )}
        <AlertDialog.Root open={target !== null} onOpenChange={(open) => !open && setTarget(null)}>
          <AlertDialog.Portal>
            <AlertDialog.Overlay className="fixed inset-0 z-40 bg-black/45" />
            <AlertDialog.Content className="fixed top-1/2 left-1/2 z-50 w-[30rem] max-w-[calc(100vw-2rem)] -translate-x-1/2 -translate-y-1/2 rounded-xl border border-edge bg-panel p-4 shadow-xl">
              <AlertDialog.Title className="text-lg font-semibold">
                Restore the backup “{target?.name}”?
              </AlertDialog.Title>
              <AlertDialog.Description className="mt-1 text-soft">
                Every enclosure, reading, entry and photograph returns to its state at that time.
                The present data are moved to a folder beside, so you can go back. A damaged backup
                changes nothing.
              </AlertDialog.Description>
              <div className="mt-4 flex flex-wrap justify-end gap-2">
                <AlertDialog.Cancel asChild>
                  <Button>Cancel</Button>
                </AlertDialog.Cancel>
                <AlertDialog.Action asChild>
                  <Button tone="strong" onClick={() => target && restore(target)}>
                    Restore
                  </Button>
                </AlertDialog.Action>
              </div>
            </AlertDialog.Content>
          </AlertDialog.Portal>
        </AlertDialog.Root>
      </SettledMain>
    </div>
  );
}

/** How old the last backup is, and the button that makes one. */
function Now({ list, work, onMake }: { list: BackupList; work: Work; onMake: () => void }) {
  const last = list.archives[0];
  const days = last ? Math.floor((Date.now() - new Date(last.made_at).getTime()) / DAY_MS) : null;
  const old = days === null || days > OLD_DAYS;
  return (
    <section
      aria-label="Now"
      className="flex flex-wrap items-center gap-4 rounded-xl border border-line bg-panel p-4"
    >
      <ShieldCheck size={36} aria-hidden className={old ? "text-high" : "text-fit"} />
      <div className="min-w-56 flex-1">
        <p className={`text-lg font-semibold ${old ? "text-high" : ""}`} data-testid="last-backup">
          {days === null
            ? "No backup yet"
            : days === 0
              ? "Backed up today"
              : `The last backup is ${days} day${days === 1 ? "" : "s"} old`}
        </p>
        <p className="text-sm text-soft">
          Everything in one file: enclosures with every revision, readings, lamps, logbook and
          photographs. Each new backup is checked by restoring it to a temporary folder.
        </p>
        {list.failure && (
          <p role="alert" className="text-sm text-high">
            The last backup failed: {list.failure}
          </p>
        )}
        {work && (
          <p role="status" className="mt-1 flex items-center gap-2 text-sm">
            <progress className="h-2 w-24" aria-label="At work" />
            {WORKING[work.what]}
          </p>
        )}
      </div>
      <Button
        tone="strong"
        className="min-h-12 px-6 text-lg"
        disabled={work !== null}
        onClick={onMake}
      >
        Back up now
      </Button>
    </section>
  );
}

interface RowProps {
  archive: BackupList["archives"][number];
  checked: CheckedBackup | undefined;
  work: Work;
  onCheck: () => void;
  onRestore: () => void;
}

function Row({ archive, checked, work, onCheck, onRestore }: RowProps) {
  const made = momentText(archive.made_at);
  return (
    <li className="flex flex-wrap items-center gap-2 py-2" data-testid={`backup-${archive.name}`}>
      <span className="min-w-48 flex-1">
        <strong>{made}</strong>{" "}
        <span className="text-soft">{fixed(archive.bytes / 1e6, 1)} MB</span>
        {checked && (
          <span className="block text-sm text-fit" data-testid="checked">
            ● complete: {checked.plans} enclosures, {checked.entries} entries, {checked.photos}{" "}
            photographs
            {checked.missing_photos > 0 && (
              <span className="text-high">
                , {checked.missing_photos} photographs were already missing
              </span>
            )}
          </span>
        )}
      </span>
      <a
        href={`/api/backups/${archive.name}`}
        download
        aria-label={`Download the backup of ${made}`}
        className="inline-grid size-9 place-items-center rounded-md hover:bg-wash"
      >
        <Download size={17} aria-hidden />
      </a>
      <Button size="small" disabled={work !== null} onClick={onCheck}>
        Check
      </Button>
      <Button size="small" disabled={work !== null} onClick={onRestore}>
        Restore
      </Button>
    </li>
  );
}

interface ScheduleProps {
  schedule: BackupSchedule;
  onChange: (schedule: BackupSchedule) => void;
}

function Schedule({ schedule, onChange }: ScheduleProps) {
  const counts = [
    ["newest", "Keep the newest", 1, 60],
    ["weeks", "Keep one a week, for weeks", 0, 60],
    ["months", "Keep one a month, for months", 0, 120],
  ] as const;
  return (
    <section aria-label="Schedule" className="rounded-xl border border-line bg-panel p-4">
      <h2 className="text-lg font-semibold">Automatic backups</h2>
      <div className="mt-2 flex flex-wrap items-end gap-4">
        <Choice
          label="How often"
          value={schedule.every ?? "day"}
          onChange={(every) => onChange({ ...schedule, every })}
          options={[
            { value: "day", label: "Every day" },
            { value: "week", label: "Every week" },
            { value: "off", label: "Never" },
          ]}
        />
        {counts.map(([key, label, min, max]) => (
          <NumberField
            key={key}
            label={label}
            value={schedule[key] ?? min}
            dimension="count"
            min={min}
            max={max}
            onCommit={(n) => onChange({ ...schedule, [key]: Math.round(n) })}
          />
        ))}
      </div>
      <p className="mt-2 text-sm text-soft">
        Made while Noon Shade runs, as soon as one is due. Older ones are deleted as set here.
      </p>
    </section>
  );
}

const momentText = (moment: string) =>
  new Date(moment).toLocaleString([], { dateStyle: "long", timeStyle: "short" });
