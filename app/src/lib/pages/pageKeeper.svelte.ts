import { createPage, savePage } from '$lib/api/client';
import type { KeptStorage } from '$lib/api/browserStorage';
import type { KeptPage, PageBody } from '$lib/api/pages';
import { reasonOf } from '$lib/api/problems';
import { History } from '$lib/components/history';

/** Changes that follow each other faster are saved as one. */
const SAVE_AFTER_MS = 400;

/** Pages of one kind: their address, which holds all that they show, and by what number they are kept. */
export interface PageKind<Body extends PageBody> {
  page: Body['page'];
  addressOf: (body: Body, kept?: number) => string;
}

/** What is done to a page as a whole: steps back and forth, and what is kept of it under a name. */
export class PageKeeper<Body extends PageBody> {
  /** The page as it is kept; nothing where it is not. */
  kept = $state.raw<KeptPage>();
  /** Why it is not saved; empty where it is, or is on its way. */
  problem = $state('');
  canUndo = $state(false);
  canRedo = $state(false);
  private history: History;
  private timer: ReturnType<typeof setTimeout> | undefined;
  /** What is to be saved, until it is on its way. */
  private waiting: Body | undefined;
  private isSaving = $state(false);
  private shown = $state.raw() as Body;
  private saving: Promise<void> = Promise.resolve();

  /**
   * @param shown  the page now
   * @param go     goes to an address; a change of a number that is dragged replaces the one before
   */
  constructor(
    readonly kind: PageKind<Body>,
    shown: Body,
    kept: KeptPage | undefined,
    private readonly go: (address: string, replaces: boolean) => void,
    private readonly storage: KeptStorage | undefined,
  ) {
    this.shown = shown;
    this.kept = kept;
    this.history = this.historyOf(kept?.id);
    this.noteSteps();
  }

  /** The address asks for another page than before. */
  opened(shown: Body, kept: KeptPage | undefined): void {
    this.shown = shown;
    if (kept?.id === this.kept?.id) return;
    this.flush();
    this.kept = kept;
    this.problem = '';
    this.history = this.historyOf(kept?.id);
    this.noteSteps();
  }

  /** The page as it is now: changes are there at once, their address follows. */
  get now(): Body {
    return this.shown;
  }

  /** Whether the address asks for something else than what is kept, as a link of an earlier day does. */
  get isAstray(): boolean {
    return this.kept !== undefined && !this.isSaving && stateOf(this.kept.body) !== stateOf(this.shown);
  }

  /** @param group  of changes that are undone as one while they follow each other quickly */
  change(what: Partial<Body>, group = ''): void {
    const before = this.shown;
    const after = { ...before, ...what };
    if (stateOf(before) === stateOf(after)) return;
    this.history.changed(stateOf(before), stateOf(after), group);
    this.show(after, group !== '');
  }

  undo(): void {
    this.restore(this.history.undo(stateOf(this.shown)));
  }

  redo(): void {
    this.restore(this.history.redo(stateOf(this.shown)));
  }

  /** Keeps the page under a name; one that is kept already stays beside it. */
  async keep(title: string): Promise<void> {
    this.flush();
    await this.attempt(async () => {
      this.kept = await createPage(fetch, { title, body: this.shown });
      this.history.moveTo(this.keyOf(this.kept.id), stateOf(this.shown));
      this.go(this.kind.addressOf(this.shown, this.kept.id), true);
    });
  }

  rename(title: string): void {
    if (!this.kept || !title.trim() || title === this.kept.title) return;
    this.kept = { ...this.kept, title: title.trim() };
    this.save(this.shown);
  }

  /** What the address asks for is kept from now on. */
  keepShown(): void {
    this.save(this.shown);
  }

  showKept(): void {
    if (this.kept) this.go(this.kind.addressOf(this.kept.body as Body, this.kept.id), false);
  }

  /** Saves at once what waits to be saved. */
  flush(): void {
    clearTimeout(this.timer);
    if (this.waiting) this.send();
  }

  private restore(state: string | undefined): void {
    if (state !== undefined) this.show(JSON.parse(state) as Body, false);
  }

  private show(body: Body, replaces: boolean): void {
    this.shown = body;
    this.noteSteps();
    if (this.kept) this.save(body);
    this.go(this.kind.addressOf(body, this.kept?.id), replaces);
  }

  private save(body: Body): void {
    this.waiting = body;
    this.isSaving = true;
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.send(), SAVE_AFTER_MS);
  }

  private send(): void {
    const [body, { id, title }] = [this.waiting!, this.kept!];
    this.waiting = undefined;
    // one after the other, each on the version of the one before
    this.saving = this.saving.then(() =>
      this.attempt(async () => {
        const version = this.kept!.version;
        const saved = await savePage(fetch, id, { title, body, version });
        if (this.kept?.id === id) this.kept = { ...saved, title: this.kept.title };
      }).then(() => void (this.isSaving = this.waiting !== undefined)),
    );
  }

  private async attempt(what: () => Promise<void>): Promise<void> {
    try {
      await what();
      this.problem = '';
    } catch (error) {
      this.problem = reasonOf(error);
    }
  }

  private historyOf(id: number | undefined): History {
    return new History(this.storage, this.keyOf(id), stateOf(this.shown));
  }

  private keyOf(id: number | undefined): string {
    return `jaunty-steps-${this.kind.page}-${id ?? 'draft'}`;
  }

  private noteSteps(): void {
    this.canUndo = this.history.canUndo;
    this.canRedo = this.history.canRedo;
  }
}

/** A page as a text that is the same for equal pages: keys in one order. */
const stateOf = (body: PageBody): string =>
  JSON.stringify(Object.fromEntries(Object.entries(body).sort(([a], [b]) => (a < b ? -1 : 1))));
