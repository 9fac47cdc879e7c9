import { BookOpen } from "lucide-react";
import { useEffect } from "react";
import { Link } from "react-router";
import { EnclosureBar } from "../plan/EnclosureBar";
import { EnclosurePage } from "../plan/EnclosurePage";
import { useOpenPlan } from "../plan/PlanFrame";
import { useUndoKeys } from "../plan/useUndoKeys";
import { ArrivalPanel } from "./ArrivalPanel";
import { CohabitationPanel } from "./CohabitationPanel";
import { GrowthPanel } from "./GrowthPanel";
import { TasksPanel } from "./TasksPanel";
import { YearPanel } from "./YearPanel";

/** An enclosure over the years: what is to do, and when. */
export function KeepingScreen() {
  const { planId, catalog, editor } = useOpenPlan();
  const { document } = editor;
  useUndoKeys(editor.undo, editor.redo);
  useEffect(() => {
    window.document.title = `Keep · ${document.name} · Noon Shade`;
  }, [document.name]);
  return (
    <EnclosurePage
      bar={
        <EnclosureBar planId={planId} catalog={catalog} editor={editor}>
          <Link
            to={`/logbook?enclosure=${planId}`}
            className="inline-flex min-h-9 items-center gap-1.5 rounded-md px-2 text-sm font-medium hover:bg-wash"
          >
            <BookOpen size={18} aria-hidden /> Logbook
          </Link>
        </EnclosureBar>
      }
      mainLabel="The year of this enclosure"
      main={<YearPanel planId={planId} editor={editor} />}
      sideLabel="Tasks, growth, company, arrival"
      side={
        <>
          <TasksPanel planId={planId} version={String(editor.revision)} />
          <GrowthPanel planId={planId} editor={editor} />
          <CohabitationPanel planId={planId} editor={editor} />
          <ArrivalPanel planId={planId} />
        </>
      }
    />
  );
}
