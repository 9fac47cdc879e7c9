/** Whether this browser can draw in 3D. */
export function hasWebGl(): boolean {
  try {
    return window.document.createElement("canvas").getContext("webgl2") !== null;
  } catch {
    return false;
  }
}
