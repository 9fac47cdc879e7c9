/** A name as the beginning of a file's: "Corn snake, PVC" and "day.csv" are "corn-snake-pvc-day.csv". */
export const fileName = (name: string, ending: string): string =>
  `${name.toLowerCase().replace(/[^a-z0-9]+/g, "-")}-${ending}`;

/** Let the browser store what is at an address under a name. */
export function download(url: string, name: string): void {
  const link = window.document.createElement("a");
  link.href = url;
  link.download = name;
  link.click();
}
