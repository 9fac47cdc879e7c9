import { Panel } from "../ui/Panel";

const GROUPS: readonly { title: string; keys: readonly [string, string][] }[] = [
  {
    title: "Anywhere",
    keys: [
      ["?", "All keys"],
      ["Ctrl K", "Find an enclosure or an action"],
      ["Tab, Shift Tab", "From one thing to the next, and back"],
      ["Escape", "Close what is open"],
    ],
  },
  {
    title: "On a plan",
    keys: [
      ["Ctrl Z", "Undo"],
      ["Ctrl Y, Ctrl Shift Z", "Redo"],
      ["Ctrl P", "Print what is shown; the report prints best"],
    ],
  },
  {
    title: "On a thing in the drawing",
    keys: [
      ["Arrow keys", "Move by 1 cm"],
      ["Shift and arrow keys", "Move by 5 cm"],
      ["R", "Turn by a quarter"],
      ["L", "Lock in place, or unlock"],
      ["G", "A guard around a lamp, or none"],
      ["Ctrl D", "Duplicate"],
      ["Ctrl C, Ctrl V", "Copy, and paste here or in another enclosure"],
      ["Delete", "Remove"],
      ["Space, Shift and click", "Select it with others, or take it out"],
      ["Ctrl A", "Select all lamps and furnishings"],
      ["Shift and drag beside things", "Select what the rectangle touches"],
      ["Escape", "Let go without moving; select none"],
    ],
  },
  {
    title: "In a field",
    keys: [
      ["12 in, 95 F, 1.2 m", "Any unit may be typed"],
      ["Arrow up, arrow down", "A little more, a little less"],
      ["Enter", "Apply"],
    ],
  },
];

/** All keys, on a sheet. */
export function KeysSheet({ onClose }: { onClose: () => void }) {
  return (
    <Panel
      open
      onOpenChange={(open) => !open && onClose()}
      title="Keys"
      description="Everything can be done without a pointer."
    >
      <Keys />
    </Panel>
  );
}

/** All keys and what they do. */
export function Keys() {
  return (
    <div className="space-y-3" data-testid="shortcuts">
      {GROUPS.map((group) => (
        <section key={group.title} aria-label={group.title}>
          <h3 className="font-semibold">{group.title}</h3>
          <dl className="grid grid-cols-[11rem_1fr] gap-x-3 text-sm">
            {group.keys.map(([keys, does]) => (
              <div key={keys} className="col-span-2 grid grid-cols-subgrid py-0.5">
                <dt className="font-semibold">{keys}</dt>
                <dd>{does}</dd>
              </div>
            ))}
          </dl>
        </section>
      ))}
    </div>
  );
}
