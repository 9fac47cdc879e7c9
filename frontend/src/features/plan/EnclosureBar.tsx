import { CalendarCheck, DraftingCompass, PencilRuler, Thermometer } from "lucide-react";
import { memo, type ReactNode } from "react";
import { NavLink } from "react-router";
import type { Catalog } from "../../api/types";
import { Header } from "../../app/Header";
import { SaveStatus } from "./SaveStatus";
import { UndoButtons } from "./UndoButtons";
import type { PlanEditor } from "./usePlanEditor";

const PLACES = [
  { path: "", label: "Plan", icon: PencilRuler },
  { path: "/readings", label: "Measure", icon: Thermometer },
  { path: "/keeping", label: "Keep", icon: CalendarCheck },
  { path: "/design", label: "Design", icon: DraftingCompass },
];

interface EnclosureBarProps {
  planId: string;
  catalog: Catalog;
  editor: PlanEditor;
  /** What the screen adds, after undo and redo. */
  children?: ReactNode;
}

/** One enclosure: its full name and animal, its places, whether it is saved, undo. */
export const EnclosureBar = memo(function EnclosureBar(props: EnclosureBarProps) {
  const { planId, catalog, editor, children } = props;
  const { document } = editor;
  const species = catalog.species.find((s) => s.id === document.animal.species_id);
  return (
    <Header>
      <div className="min-w-0 flex-[1_1_18rem] max-md:w-[calc(100%-7rem)] max-md:flex-none">
        <h1 className="leading-tight font-semibold text-pretty">{document.name}</h1>
        <p className="truncate text-sm leading-tight text-soft max-md:sr-only">
          {species && (
            <>
              {species.common_name}, <i>{species.scientific_name}</i>
            </>
          )}
        </p>
      </div>
      <nav
        aria-label="This enclosure"
        className="flex rounded-lg border border-edge bg-raised p-0.5 max-md:order-2"
      >
        {PLACES.map(({ path, label, icon: Icon }) => (
          <NavLink
            key={label}
            to={`/plans/${planId}${path}`}
            end
            className="flex min-h-9 items-center justify-center gap-1.5 rounded-md px-2.5 text-sm font-medium hover:bg-wash aria-[current=page]:bg-accent aria-[current=page]:text-accent-ink max-md:min-w-11 max-md:px-1.5"
          >
            <Icon size={16} aria-hidden className="max-md:hidden" /> {label}
          </NavLink>
        ))}
      </nav>
      <div className="max-md:order-3 max-md:has-data-[state=saved]:sr-only">
        <SaveStatus editor={editor} planId={planId} />
      </div>
      <div className="flex items-center max-md:order-2 max-md:ml-auto max-md:-mr-2">
        <UndoButtons editor={editor} />
        {children}
      </div>
    </Header>
  );
});
