import type { ListStretch } from './lists';

/** A list that is fetched a stretch at a time, in the order of the server. */
export class StretchedList<Item extends { id: number }> {
  items = $state.raw<Item[]>();
  total = $state(0);
  private next = $state<string>();
  /** How many there are that are not shown yet. */
  readonly more = $derived(this.next === undefined ? 0 : Math.max(this.total - (this.items?.length ?? 0), 1));

  /** @param fetchStretch  the stretch at an address, or the first one of those that some words find */
  constructor(private readonly fetchStretch: (from: { next?: string; find?: string }) => Promise<ListStretch<Item>>) {}

  /** @throws {Refusal} as the list's address answers, as all of these do */
  async load(): Promise<void> {
    this.start(await this.fetchStretch({}));
  }

  /** Starts with a stretch that is here already. */
  start(stretch: ListStretch<Item>): void {
    this.items = stretch.items;
    this.take(stretch);
  }

  async loadMore(): Promise<void> {
    const stretch = await this.fetchStretch({ next: this.next });
    this.add(stretch.items);
    this.take(stretch);
  }

  /** Adds those that some words find, where not all are here already. */
  async find(words: string): Promise<void> {
    if (this.next === undefined || words.trim() === '') return;
    this.add((await this.fetchStretch({ find: words.trim() })).items);
  }

  remove(id: number): void {
    this.items = this.items?.filter((item) => item.id !== id);
    this.total--;
  }

  private take({ total, next }: ListStretch<Item>): void {
    this.total = total;
    this.next = next;
  }

  private add(items: readonly Item[]): void {
    const known = new Set(this.items?.map(({ id }) => id));
    this.items = [...(this.items ?? []), ...items.filter(({ id }) => !known.has(id))];
  }
}
