/** Units at the end of a document's names, which a reader of a message does not need. */
const UNITS = /_(m|m2|m3|c|k|w|h|min|s|deg|percent|per_h|per_kwh|w_m2)$/;

/** A place in a document, from its JSON Pointer, in words: "/fixtures/0/power_w" is "fixtures 1, power". */
export function placeInWords(pointer: string): string {
  let words = "";
  for (const part of pointer.split("/").slice(1)) {
    const name = part.replaceAll("~1", "/").replaceAll("~0", "~");
    if (/^\d+$/.test(name)) words += ` ${Number(name) + 1}`;
    else words += `${words && ", "}${name.replace(UNITS, "").replaceAll("_", " ")}`;
  }
  return words.trim();
}
