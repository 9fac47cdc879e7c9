import type { PhrasePart } from "../../api/types";
import { showFigure } from "../../domain/units/units";
import { usePreferences } from "../../ui/preferences";

/** A sentence from the model, with its figures in the reader's units. */
export function Phrase({ parts }: { parts: readonly PhrasePart[] }) {
  const { units } = usePreferences();
  return (
    <>
      {parts
        .map((part) =>
          part.kind === "text" ? part.text : showFigure(part.value, part.unit, units),
        )
        .join("")}
    </>
  );
}
