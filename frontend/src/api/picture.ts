/** Pictures of a plan while it is being changed: the one layer that is seen, as bytes. */
import type { Field, FieldName } from "../canvas/fields";
import { api, settle, type View } from "./client";
import type { LampAge, PlanDocument } from "./types";

/** The layer on each view that is shown. */
export interface Picture {
  readonly front?: Field;
  readonly above?: Field;
}

export interface PictureQuestion {
  readonly document: PlanDocument;
  readonly layer: FieldName;
  readonly view: View;
  readonly lampAge: LampAge;
  readonly powerFraction: Record<string, number>;
}

interface Header {
  layer: FieldName;
  views: {
    from: "front" | "above";
    nx: number;
    nz: number;
    x0: number;
    x1: number;
    z0: number;
    z1: number;
  }[];
}

/** Samples while something moves: half as many each way as once it rests, and smoothed alike. */
const [ACROSS, UP] = [60, 30];

export function unpackPicture(bytes: ArrayBuffer): Picture {
  const length = new DataView(bytes).getUint32(0, true);
  const header: Header = JSON.parse(new TextDecoder().decode(new Uint8Array(bytes, 4, length)));
  const found: { front?: Field; above?: Field } = {};
  let at = 4 + length;
  for (const { from, ...ends } of header.views) {
    const count = ends.nx * ends.nz;
    found[from] = { name: header.layer, values: new Float32Array(bytes, at, count), ...ends };
    at += 4 * count;
  }
  return found;
}

export async function fetchPicture(question: PictureQuestion): Promise<Picture> {
  const { document, layer, view, lampAge } = question;
  const answer = api.POST("/api/picture", {
    body: {
      document,
      layer,
      lamp_age: lampAge,
      power_fraction: question.powerFraction,
      section: view.from !== "above" ? { y_m: view.depth, nx: ACROSS, nz: UP } : null,
      plan_view: view.from !== "front" ? { z_m: view.height, nx: ACROSS, ny: UP } : null,
    },
    parseAs: "arrayBuffer",
  });
  return unpackPicture((await settle(answer as never)) as ArrayBuffer);
}
