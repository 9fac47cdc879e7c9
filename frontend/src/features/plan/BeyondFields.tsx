import type { Neighbour, PlanDocument } from "../../api/types";
import { Help } from "../../ui/Help";
import { NumberFields, type NumberRow } from "../../ui/NumberFields";
import { SelectField } from "../../ui/SelectField";
import type { FormProps } from "./forms";

type Face = keyof PlanDocument["enclosure"]["walls"];

/** What is beyond a face, where that is not the room's air. */
export function BeyondFields({
  document: d,
  edits,
  face,
  name,
}: FormProps & { face: Face; name: string }) {
  const all = d.enclosure.neighbours ?? [];
  const own = all.find((n) => n.face === face) ?? null;
  const put = (next: Neighbour | null, summary: string) =>
    edits.commit(
      {
        ...d,
        enclosure: {
          ...d.enclosure,
          neighbours: [...all.filter((n) => n.face !== face), ...(next ? [next] : [])],
        },
      },
      `${name} ${summary}`,
    );
  const usual = { face, day_temperature_c: 26, night_temperature_c: 22 };
  return (
    <>
      <SelectField
        label="Beyond this face"
        value={own ? (own.label === OUTSIDE ? "outside" : "enclosure") : ""}
        options={[
          { value: "", label: "The room" },
          { value: "enclosure", label: "Another enclosure" },
          { value: "outside", label: "An outside wall" },
        ]}
        help={
          <Help about="what is beyond a face">
            An enclosure below warms the floor. One on top of a mesh lid closes it and warms it. An
            outside wall loses more heat than one towards the room.
          </Help>
        }
        onChange={(id) =>
          id === ""
            ? put(null, "against the room")
            : id === "enclosure"
              ? put({ ...usual, label: "Another enclosure" }, "against another enclosure")
              : put(
                  {
                    face,
                    label: OUTSIDE,
                    day_temperature_c: d.room.day_temperature_c - 6,
                    night_temperature_c: d.room.night_temperature_c - 8,
                  },
                  "against an outside wall",
                )
        }
      />
      {own && (
        <NumberFields
          rows={BEYOND}
          of={own}
          onCommit={(part, summary) => put({ ...own, ...part }, summary)}
        />
      )}
    </>
  );
}

const OUTSIDE = "Outside wall";

const BEYOND: readonly NumberRow<Neighbour>[] = [
  {
    key: "day_temperature_c",
    label: "Highest there by day",
    dimension: "temperature",
    min: -30,
    max: 60,
    summary: (shown) => `against ${shown} by day`,
  },
  {
    key: "night_temperature_c",
    label: "Lowest there by night",
    dimension: "temperature",
    min: -30,
    max: 60,
    summary: (shown) => `against ${shown} by night`,
  },
];
