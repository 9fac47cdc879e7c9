let known: boolean | null = null;

/** Whether this browser can draw in 3D; tried once, since a browser has few contexts to give. */
export function hasWebGl(): boolean {
  if (known !== null) return known;
  try {
    const context = window.document.createElement("canvas").getContext("webgl2");
    context?.getExtension("WEBGL_lose_context")?.loseContext();
    known = context !== null;
  } catch {
    known = false;
  }
  return known;
}
