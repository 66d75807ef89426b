<script lang="ts" generics="Item extends Suggestion">
  import type { Suggestion, Suggestions } from './suggestions.svelte';

  interface Props {
    /** Of the field: the list is `ID-list`, its items `ID-0` and so on. */
    id: string;
    suggestions: Suggestions<Item>;
    take: (item: Item) => void;
    label: string;
    /** How they are taken, under the list. */
    hint: string;
  }
  let { id, suggestions, take, label, hint }: Props = $props();

  const { left, top } = $derived(suggestions.place);
</script>

<svelte:window onscrollcapture={() => suggestions.follow()} />

{#if suggestions.isOpen}
  <ul id="{id}-list" role="listbox" aria-label={label} style:left="{left}px" style:top="{top}px">
    {#each suggestions.items as item, index (item.text)}
      <li
        id="{id}-{index}"
        role="option"
        aria-selected={index === suggestions.chosen}
        class:chosen={index === suggestions.chosen}
        onpointerdown={(event) => {
          event.preventDefault();
          take(item);
        }}
      >
        <code>{item.text}</code><span>{item.says}</span>
      </li>
    {/each}
    <li class="hint" aria-hidden="true">{hint}</li>
  </ul>
{/if}

<style>
  ul {
    position: fixed; /* a margin that scrolls would cut it */
    z-index: 30;
    width: 520px;
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
