import { useSyncExternalStore } from "react";
import { flushSync } from "react-dom";
import { fetchPicture, type Picture, type PictureQuestion } from "../../api/picture";
import type { PlanDocument } from "../../api/types";

interface Shown {
  readonly picture: Picture;
  readonly document: PlanDocument;
}

/** How long what is dragged waits for its picture before it moves without one. */
const PATIENCE_MS = 80;

interface Asked {
  readonly question: PictureQuestion;
  readonly show: (document: PlanDocument) => void;
  /** In which drag it was asked for. */
  readonly drag: number;
}

/**
 * Pictures of a plan that is being dragged. One request is under way at a time; when it is answered the newest
 * question goes next, so that the picture follows as fast as it can be computed. A picture that cannot be
 * computed is left out: the evaluation that follows says why.
 */
export class LivePictures {
  private shown: Shown | null = null;
  private newest: Asked | null = null;
  /** The latest that is not yet on the screen. */
  private unseen: Asked | null = null;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private isAsking = false;
  private drag = 0;
  private readonly listeners = new Set<() => void>();
  // Documents in the order in which they came: a picture from before the evaluation is of no use.
  private readonly numbers = new WeakMap<PlanDocument, number>();
  private count = 0;

  constructor(private readonly fetched = fetchPicture) {}

  /** That a document is on the screen. */
  note(document: PlanDocument): void {
    if (!this.numbers.has(document)) this.numbers.set(document, ++this.count);
  }

  /**
   * Want a picture of a document, as soon as there can be one. ``show`` is called with the document together
   * with its picture, so that both are drawn at once; or without it, where that takes long.
   */
  ask(question: PictureQuestion, show: (document: PlanDocument) => void = () => {}): void {
    this.note(question.document);
    this.newest = { question, show, drag: this.drag };
    this.unseen = this.newest;
    this.timer ??= setTimeout(() => this.reveal(), PATIENCE_MS);
    if (!this.isAsking) void this.follow();
  }

  /** Show nothing any more of what was asked for: the drag is over. */
  drop(): void {
    this.drag++;
    this.newest = null;
    this.unseen = null;
    clearTimeout(this.timer);
    this.timer = undefined;
  }

  private reveal(): void {
    clearTimeout(this.timer);
    this.timer = undefined;
    const { unseen } = this;
    this.unseen = null;
    unseen?.show(unseen.question.document);
  }

  /** The picture, if it is of a later document than the one that was evaluated. */
  after(evaluated: PlanDocument | null): Picture | null {
    const numberOf = (one: PlanDocument | undefined | null) => (one && this.numbers.get(one)) ?? 0;
    return numberOf(this.shown?.document) > numberOf(evaluated)
      ? (this.shown?.picture ?? null)
      : null;
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  private async follow(): Promise<void> {
    this.isAsking = true;
    while (this.newest !== null) {
      const asked = this.newest;
      const { document } = asked.question;
      this.newest = null;
      const picture = await this.fetched(asked.question).catch(() => null);
      if (!picture) continue;
      this.shown = { picture, document };
      // The document and its picture are drawn at once, and once.
      flushSync(() => {
        if (this.unseen === asked) this.reveal();
        else if (this.unseen && asked.drag === this.drag) {
          // Something later waits: this goes on the screen meanwhile.
          asked.show(document);
          clearTimeout(this.timer);
          this.timer = setTimeout(() => this.reveal(), PATIENCE_MS);
        }
        for (const listener of this.listeners) listener();
      });
    }
    this.isAsking = false;
  }
}

/** The live picture where it is newer than the evaluation of the document on the screen. */
export function useLivePicture(
  pictures: LivePictures,
  document: PlanDocument,
  evaluated: PlanDocument | null,
): Picture | null {
  pictures.note(document);
  const picture = useSyncExternalStore(pictures.subscribe, () => pictures.after(evaluated));
  return evaluated === document ? null : picture;
}
