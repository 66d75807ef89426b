import { createPage, savePage } from '$lib/api/client';
import type { KeptStorage } from '$lib/api/browserStorage';
import { reasonOf } from '$lib/api/problems';
import { History } from '$lib/components/history';

/** Addresses on their way at once; nobody changes a page faster. */
const MOST_SENT = 50;
/** Changes that follow each other faster are saved as one. */
const SAVE_AFTER_MS = 400;

/** Pages of one kind: their address, which holds all that they show, and by what number they are kept. */
export interface PageKind<Body extends object> {
  page: string;
  addressOf: (body: Body, kept?: number) => string;
  /** Where they are kept; among the pages of the book that have all in their address, if not given. */
  documents?: PageDocuments<Body>;
}

/** A page as it is kept. */
export interface Kept<Body> {
  id: number;
  title: string;
  version: number;
  savedAt: string;
  body: Body;
}

export interface PageDocuments<Body> {
  create: (page: Pick<Kept<Body>, 'title' | 'body'>) => Promise<Kept<Body>>;
  save: (id: number, change: Pick<Kept<Body>, 'title' | 'body' | 'version'>) => Promise<Kept<Body>>;
}

/** The pages of the book. Their schema is the one of all kinds; a kind knows what it has sent. */
const BOOK = {
  create: (page: never) => createPage(fetch, page),
  save: (id: number, change: never) => savePage(fetch, id, change),
};

/** What is done to a page as a whole: steps back and forth, and what is kept of it under a name. */
export class PageKeeper<Body extends object> {
  /** The page as it is kept; nothing where it is not. */
  kept = $state.raw<Kept<Body>>();
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
  /** States whose addresses are on their way to, in the order of the changes. */
  private sent: string[] = [];

  /**
   * @param shown  the page now
   * @param go     goes to an address; a change of a number that is dragged replaces the one before
   */
  constructor(
    readonly kind: PageKind<Body>,
    shown: Body,
    kept: Kept<object> | undefined,
    private readonly go: (address: string, replaces: boolean) => void,
    private readonly storage: KeptStorage | undefined,
  ) {
    this.shown = shown;
    this.kept = kept as Kept<Body> | undefined; // who opens a page has looked that it is of its kind
    this.history = this.historyOf(kept?.id);
    this.noteSteps();
  }

  /** The address asks for another page than before. */
  opened(shown: Body, kept: Kept<object> | undefined): void {
    // an address of its own that arrives late must not take back what was changed since
    const place = kept?.id === this.kept?.id ? this.sent.indexOf(stateOf(shown)) : -1;
    if (place >= 0) this.sent.splice(0, place + 1);
    else {
      this.sent = [];
      this.shown = shown;
    }
    if (kept?.id === this.kept?.id) return;
    this.flush();
    this.kept = kept as Kept<Body> | undefined;
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
      this.kept = await this.documents.create({ title, body: this.shown });
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
    if (this.kept) this.go(this.kind.addressOf(this.kept.body, this.kept.id), false);
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
    this.sent = [...this.sent, stateOf(body)].slice(-MOST_SENT);
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
        const saved = await this.documents.save(id, { title, body, version });
        if (this.kept?.id === id) this.kept = { ...saved, title: this.kept.title };
      }).then(() => void (this.isSaving = this.waiting !== undefined)),
    );
  }

  private get documents(): PageDocuments<Body> {
    return this.kind.documents ?? (BOOK as unknown as PageDocuments<Body>);
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
const stateOf = (body: object): string =>
  JSON.stringify(Object.fromEntries(Object.entries(body).sort(([a], [b]) => (a < b ? -1 : 1))));
