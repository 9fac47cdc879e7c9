import { flushSync } from "react-dom";
import { fetchPicture, type Picture, type PictureQuestion } from "../../api/picture";
import type { PlanDocument } from "../../api/types";
import type { Live } from "../../canvas/live";
import { type Pace, RESTING_MS } from "./useEvaluation";

interface Shown {
  readonly picture: Picture;
  readonly document: PlanDocument;
}

/** How long what is dragged waits for its picture before it moves without one. */
const PATIENCE_MS = 80;
/** How often what stands around the drawing follows while something is dragged in it. */
const AROUND_MS = 600;

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
export class LivePictures implements Live {
  private dragged: PlanDocument | null = null;
  private around: ReturnType<typeof setTimeout> | undefined;
  private resting: ReturnType<typeof setTimeout> | undefined;
  private rests = false;
  private followedAt = Number.NEGATIVE_INFINITY;
  private plan: PlanDocument | null = null;
  private evaluated: PlanDocument | null = null;
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

  /** ``preview`` is given what is dragged now and then. */
  constructor(
    private readonly preview: (document: PlanDocument) => void,
    private readonly fetched = fetchPicture,
  ) {}

  /** Which plan is on the screen around the drawing, and which was evaluated last. */
  setPlan(plan: PlanDocument, evaluated: PlanDocument | null): void {
    this.note(plan);
    this.plan = plan;
    this.evaluated = evaluated;
  }

  private note(document: PlanDocument): void {
    if (!this.numbers.has(document)) this.numbers.set(document, ++this.count);
  }

  /** Show a step of a drag in the drawing; what stands around it follows now and then. */
  move = (document: PlanDocument): void => {
    this.note(document);
    this.dragged = document;
    this.rests = false;
    this.notify();
    clearTimeout(this.resting);
    this.resting = setTimeout(() => this.rest(document), RESTING_MS);
    this.around ??= setTimeout(
      () => {
        this.around = undefined;
        this.followedAt = performance.now();
        if (this.dragged) this.preview(this.dragged);
      },
      Math.max(0, this.followedAt + AROUND_MS - performance.now()),
    );
  };

  private rest(document: PlanDocument): void {
    clearTimeout(this.around);
    this.around = undefined;
    this.rests = true;
    this.preview(document);
    this.notify();
  }

  moving = (): PlanDocument | null => this.dragged;

  /** How the figures are to follow what is dragged: once the hand rests, at once. */
  pace = (): Pace =>
    this.dragged === null ? "when it rests" : this.rests ? "at once" : "now and then";

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
    this.dragged = null;
    clearTimeout(this.resting);
    clearTimeout(this.around);
    this.around = undefined;
    this.newest = null;
    this.unseen = null;
    clearTimeout(this.timer);
    this.timer = undefined;
    this.notify();
  }

  private notify(): void {
    for (const listener of this.listeners) listener();
  }

  private reveal(): void {
    clearTimeout(this.timer);
    this.timer = undefined;
    const { unseen } = this;
    this.unseen = null;
    unseen?.show(unseen.question.document);
  }

  /** The picture, if it is of a later document than the one that was evaluated. */
  picture = (): Picture | null => {
    if ((this.dragged ?? this.plan) === this.evaluated) return null;
    const numberOf = (one: PlanDocument | undefined | null) => (one && this.numbers.get(one)) ?? 0;
    return numberOf(this.shown?.document) > numberOf(this.evaluated)
      ? (this.shown?.picture ?? null)
      : null;
  };

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  private async follow(): Promise<void> {
    this.isAsking = true;
    while (this.newest !== null) {
      const asked: Asked = this.newest;
      this.newest = null;
      const picture = await this.fetched(asked.question).catch(() => null);
      if (picture) this.draw({ asked, picture, document: asked.question.document });
    }
    this.isAsking = false;
  }

  private draw({ asked, picture, document }: Shown & { asked: Asked }): void {
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
      this.notify();
    });
  }
}
