/** Something that can be done now, found by its words. */
export interface Command {
  readonly label: string;
  /** What it is listed under. */
  readonly group: string;
  /** Other words it is found by. */
  readonly words?: string;
  readonly keys?: string;
  readonly run: () => void;
}
