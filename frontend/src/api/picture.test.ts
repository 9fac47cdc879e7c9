import { expect, test } from "vitest";
import { unpackPicture } from "./picture";

test("a picture is unpacked view by view", () => {
  const header = {
    layer: "air",
    views: [
      { from: "front", nx: 2, nz: 2, x0: 0, x1: 1.2, z0: 0.05, z1: 0.6 },
      { from: "above", nx: 3, nz: 1, x0: 0, x1: 1.2, z0: 0, z1: 0.6 },
    ],
  };
  let text = JSON.stringify(header);
  text += " ".repeat((4 - (text.length % 4)) % 4);
  const bytes = new ArrayBuffer(4 + text.length + 4 * 7);
  new DataView(bytes).setUint32(0, text.length, true);
  new Uint8Array(bytes, 4).set(new TextEncoder().encode(text));
  new Float32Array(bytes, 4 + text.length).set([21, 22, 23, 24, 31, 32, 33]);
  const found = unpackPicture(bytes);
  expect([...(found.front?.values ?? [])]).toEqual([21, 22, 23, 24]);
  expect(found.front).toMatchObject({ name: "air", nx: 2, nz: 2, x1: 1.2, z0: 0.05 });
  expect([...(found.above?.values ?? [])]).toEqual([31, 32, 33]);
  expect(found.above).toMatchObject({ name: "air", nx: 3, nz: 1, z1: 0.6 });
});
