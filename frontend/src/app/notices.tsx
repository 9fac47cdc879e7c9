import { X } from "lucide-react";
import { Toast } from "radix-ui";
import { createContext, type ReactNode, useCallback, useContext, useState } from "react";
import { ProblemError } from "../api/client";
import { placeInWords } from "../domain/pointer";
import { Button } from "../ui/Button";

interface Notice {
  id: number;
  title: string;
  detail?: string | undefined;
  tone: "plain" | "trouble";
  action?: { label: string; run: () => void } | undefined;
}

type Notify = (notice: Omit<Notice, "id">) => void;
const Context = createContext<Notify>(() => {});
let nextId = 1;

/** Short messages at the edge of the screen. */
export function NoticesProvider({ children }: { children: ReactNode }) {
  const [notices, setNotices] = useState<Notice[]>([]);
  const notify = useCallback<Notify>((notice) => {
    setNotices((all) => [...all.slice(-2), { ...notice, id: nextId++ }]);
  }, []);
  const drop = (id: number) => setNotices((all) => all.filter((n) => n.id !== id));
  return (
    <Context.Provider value={notify}>
      <Toast.Provider duration={8000} label="Notice">
        {children}
        {notices.map((n) => (
          <Toast.Root
            key={n.id}
            type={n.tone === "trouble" ? "foreground" : "background"}
            duration={n.tone === "trouble" ? 20000 : 8000}
            onOpenChange={(open) => !open && drop(n.id)}
            className={`flex items-start gap-3 rounded-lg border bg-raised p-3 shadow-lg ${
              n.tone === "trouble" ? "border-high" : "border-edge"
            }`}
          >
            <div className="min-w-0 flex-1">
              <Toast.Title className="font-semibold">{n.title}</Toast.Title>
              {n.detail && (
                <Toast.Description className="mt-0.5 text-sm break-words text-soft">
                  {n.detail}
                </Toast.Description>
              )}
            </div>
            {n.action && (
              <Toast.Action asChild altText={n.action.label}>
                <Button size="small" onClick={n.action.run}>
                  {n.action.label}
                </Button>
              </Toast.Action>
            )}
            <Toast.Close aria-label="Close" className="rounded p-1 hover:bg-wash">
              <X size={16} aria-hidden />
            </Toast.Close>
          </Toast.Root>
        ))}
        <Toast.Viewport className="no-print fixed right-0 bottom-0 z-50 m-4 flex w-96 max-w-[calc(100vw-2rem)] flex-col gap-2" />
      </Toast.Provider>
    </Context.Provider>
  );
}

export const useNotify = (): Notify => useContext(Context);

/** Title and detail of any error, for people. */
export function describe(error: unknown): { title: string; detail: string } {
  if (error instanceof ProblemError) {
    const { title, detail, fields = [] } = error.problem;
    // A detail that is the message itself names what is wrong: it needs no place.
    if (fields.every((f) => f.message === detail)) return { title, detail };
    const places = fields.map((f) =>
      f.pointer ? `${placeInWords(f.pointer)}: ${f.message}` : f.message,
    );
    return { title, detail: places.join("; ") };
  }
  return { title: "Something went wrong", detail: error instanceof Error ? error.message : "" };
}
