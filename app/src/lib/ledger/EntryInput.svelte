<script lang="ts">
  import { completionsAt, type Completion } from '@jaunty-ledger/core';
  import ComplaintText from './Complaint.svelte';
  import type { Complaint } from './complaint';

  let {
    submit,
    names,
    texts,
    label = 'New entry',
    initial = '',
    begun = '',
    onleave,
  }: {
    /** Takes what was written. @returns what is wrong with it */
    submit: (text: string) => Promise<Complaint | undefined>;
    /** Columns and entries that formulas may use. */
    names: ReadonlyMap<string, string>;
    /** Text columns of the bars. */
    texts: ReadonlyMap<string, readonly string[]>;
    label?: string;
    /** A text to begin with: then one field is written anew, and left when that is done. */
    initial?: string;
    /** A text that the empty line has already; it waits to be entered. */
    begun?: string;
    onleave?: () => void;
  } = $props();

  // svelte-ignore state_referenced_locally
  let text = $state(initial || begun);
  let wrong = $state<{ text: string; complaint: Complaint }>();
  let field: HTMLInputElement;
  let items = $state<Completion[]>([]);
  let chosen = $state(0);
  let place = $state({ left: 0, top: 0 });
  let replaced = { start: 0, end: 0 };
  const id = $props.id();

  $effect(() => {
    if (!initial && !begun) return;
    field.focus();
    field.select();
  });

  async function enter(): Promise<void> {
    const typed = text.trim();
    items = [];
    if (!typed) return onleave?.();
    // the next one may be begun while this one is looked at
    if (!initial) text = '';
    const complaint = await submit(typed);
    wrong = complaint && { text: typed, complaint };
    if (complaint) text ||= typed;
    else if (initial) onleave?.();
  }

  function offer(): void {
    wrong = undefined;
    const { start, end, items: found } = completionsAt(text, field.selectionStart ?? text.length, names, texts);
    replaced = { start, end };
    items = found;
    chosen = 0;
    const { left, bottom, top } = field.getBoundingClientRect();
    const heightPx = (found.length + 1) * 22 + 12;
    const hasRoom = bottom + heightPx < window.innerHeight;
    place = {
      left: Math.min(left, Math.max(0, window.innerWidth - 440)),
      top: hasRoom ? bottom : Math.max(0, top - heightPx),
    };
  }

  function take(item: Completion): void {
    text = text.slice(0, replaced.start) + item.text + text.slice(replaced.end);
    const cursor = replaced.start + item.cursor;
    queueMicrotask(() => {
      field.focus();
      field.setSelectionRange(cursor, cursor);
      offer();
    });
  }

  function key(event: KeyboardEvent): void {
    event.stopPropagation(); // letters are written here, not keys of the page
    if (event.key === 'Escape') {
      if (items.length > 0) items = [];
      else {
        if (initial) text = initial; // what was typed over it is given up
        onleave?.();
      }
      return;
    }
    if (event.key === 'Enter') {
      event.preventDefault();
      return void enter();
    }
    if (items.length === 0) {
      if (event.key === 'ArrowDown') {
        event.preventDefault();
        offer();
      }
      return;
    }
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (step) {
      event.preventDefault();
      chosen = (chosen + step + items.length) % items.length;
    } else if (event.key === 'Tab') {
      event.preventDefault();
      take(items[chosen]);
    }
  }
</script>

<div class="line">
  <input
    bind:this={field}
    bind:value={text}
    aria-label={label}
    placeholder="write an entry…"
    spellcheck="false"
    autocomplete="off"
    role="combobox"
    aria-expanded={items.length > 0}
    aria-controls="{id}-list"
    aria-activedescendant={items.length > 0 ? `${id}-${chosen}` : undefined}
    aria-autocomplete="list"
    oninput={offer}
    onkeydown={key}
    onblur={() => {
      items = [];
      if (initial) void enter();
    }}
  />
  {#if items.length > 0}
    <ul id="{id}-list" role="listbox" aria-label="Completions" style:left="{place.left}px" style:top="{place.top}px">
      {#each items as item, index (item.text)}
        <li
          id="{id}-{index}"
          role="option"
          aria-selected={index === chosen}
          class:chosen={index === chosen}
          onpointerdown={(event) => {
            event.preventDefault();
            take(item);
          }}
        >
          <code>{item.text}</code><span>{item.says}</span>
        </li>
      {/each}
      <li class="hint" aria-hidden="true">Tab inserts the marked one, Enter accepts the line as it is</li>
    </ul>
  {/if}
  {#if wrong}<ComplaintText text={wrong.text} complaint={wrong.complaint} />{/if}
</div>

<style>
  .line {
    position: relative;
  }
  input {
    width: 100%;
    box-sizing: border-box;
    font-family: var(--mono);
    font-size: 12px;
    color: var(--ink);
    background: none;
    border: 0;
    border-bottom: 1px solid var(--rule);
    border-radius: 0;
    padding: 2px 0;
  }
  input::placeholder {
    color: var(--quiet);
  }
  input:focus {
    outline: 0;
    box-shadow: none;
    border-bottom: 2px solid var(--blue);
    padding-bottom: 1px;
  }
  ul {
    position: fixed; /* a margin that scrolls would cut it */
    z-index: 30;
    width: 430px;
    max-width: calc(100vw - 48px);
    margin: 2px 0 0;
    padding: 4px 0;
    list-style: none;
    background: var(--paper);
    border: 1px solid var(--rule);
    border-top: 2px solid var(--ink);
    font-size: 13px;
  }
  li {
    display: flex;
    gap: 12px;
    align-items: baseline;
    padding: 1px 10px;
    cursor: pointer;
  }
  li.chosen {
    background: var(--paper-raised);
  }
  li code {
    flex: none;
    font-family: var(--mono);
    font-size: 12px;
  }
  li span {
    color: var(--quiet);
    overflow: hidden;
    white-space: nowrap;
    text-overflow: ellipsis;
  }
  .hint {
    color: var(--quiet);
    font-style: italic;
    font-size: 12px;
    cursor: default;
  }
</style>
