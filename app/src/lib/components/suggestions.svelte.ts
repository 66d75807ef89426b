/** Something that a field offers to write. */
export interface Suggestion {
  text: string;
  /** What it is, in a few words. */
  says: string;
}

const ITEM_PX = 22;
const WIDTH_PX = 530;

/** The suggestions under a field: which there are, which one is marked, and where the list stands. */
export class Suggestions<Item extends Suggestion> {
  items = $state.raw<readonly Item[]>([]);
  chosen = $state(0);
  place = $state({ left: 0, top: 0 });
  private field: HTMLElement | undefined;

  get isOpen(): boolean {
    return this.items.length > 0;
  }

  get marked(): Item | undefined {
    return this.items[this.chosen];
  }

  /** Attributes of the field for assistive technology. @param id  of the field, as `SuggestionList` has it */
  attributes(id: string) {
    return {
      role: 'combobox',
      spellcheck: false,
      autocomplete: 'off',
      'aria-autocomplete': 'list',
      'aria-expanded': this.isOpen,
      'aria-controls': `${id}-list`,
      'aria-activedescendant': this.isOpen ? `${id}-${this.chosen}` : undefined,
    } as const;
  }

  /** Opens the list under a field, or above it where there is no room. */
  open(field: HTMLElement, items: readonly Item[]): void {
    // the browser's own undo may write into a field that has lost the focus
    if (document.activeElement !== field) return;
    this.items = items;
    this.chosen = 0;
    this.field = field;
    this.follow();
  }

  /** Puts the list at its field again, which has scrolled. */
  follow(): void {
    if (!this.field || !this.isOpen) return;
    const { left, bottom, top } = this.field.getBoundingClientRect();
    const heightPx = (this.items.length + 1) * ITEM_PX + 12;
    const hasRoom = bottom + heightPx < window.innerHeight;
    this.place = {
      left: Math.min(left, Math.max(0, window.innerWidth - WIDTH_PX)),
      top: hasRoom ? bottom : Math.max(0, top - heightPx),
    };
  }

  close(): void {
    this.items = [];
  }

  /** Marks the next item, or the one before, where a key says so. @returns whether it did */
  step(key: string): boolean {
    const step = { ArrowDown: 1, ArrowUp: -1 }[key];
    if (!step || !this.isOpen) return false;
    this.chosen = (this.chosen + step + this.items.length) % this.items.length;
    return true;
  }
}
