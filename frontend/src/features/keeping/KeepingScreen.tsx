import { useEffect } from "react";
import { Link } from "react-router";
import { Header } from "../../app/Header";
import { useOpenPlan } from "../plan/PlanFrame";
import { SaveStatus } from "../plan/SaveStatus";
import { UndoButtons } from "../plan/UndoButtons";
import { useUndoKeys } from "../plan/useUndoKeys";
import { ArrivalPanel } from "./ArrivalPanel";
import { CohabitationPanel } from "./CohabitationPanel";
import { GrowthPanel } from "./GrowthPanel";
import { TasksPanel } from "./TasksPanel";
import { YearPanel } from "./YearPanel";

/** An enclosure over the years: what is to do, and when. */
export function KeepingScreen() {
  const { planId, editor } = useOpenPlan();
  const { document } = editor;
  useUndoKeys(editor.undo, editor.redo);
  useEffect(() => {
    window.document.title = `Keeping · ${document.name} · Noon Shade`;
  }, [document.name]);
  return (
    <div className="flex min-h-screen flex-col">
      <Header>
        <div className="w-full min-w-0 sm:w-auto sm:flex-1">
          <h1 className="truncate leading-tight font-semibold">Keeping: {document.name}</h1>
          <span className="flex flex-wrap gap-x-3 text-sm text-accent">
            <Link to={`/plans/${planId}`} className="underline">
              Back to the plan
            </Link>
            <Link to={`/logbook?enclosure=${planId}`} className="underline">
              Logbook
            </Link>
          </span>
        </div>
        <SaveStatus editor={editor} planId={planId} />
        <div className="flex items-center">
          <UndoButtons editor={editor} />
        </div>
      </Header>
      <main className="mx-auto grid w-full max-w-[90rem] flex-1 grid-cols-1 content-start gap-4 p-3">
        <YearPanel planId={planId} editor={editor} />
        <div className="grid grid-cols-1 items-start gap-4 lg:grid-cols-2">
          <TasksPanel planId={planId} version={String(editor.revision)} />
          <div className="grid gap-4">
            <GrowthPanel planId={planId} editor={editor} />
            <CohabitationPanel planId={planId} editor={editor} />
            <ArrivalPanel planId={planId} />
          </div>
        </div>
      </main>
    </div>
  );
}
