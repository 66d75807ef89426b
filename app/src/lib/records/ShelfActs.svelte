<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Input from '$lib/components/Input.svelte';
  import Select from '$lib/components/Select.svelte';
  import { changeTape } from '$lib/api/client';
  import { MOST_MEMBERS } from '$lib/works/comparison/work';
  import { Refusal } from '$lib/api/problems';
  import type { TapeChange } from '$lib/api/tapes';
  import Said from '$lib/components/Said.svelte';

  interface Props {
    /** Tapes that were chosen, and how many of them the shelf does not show. */
    names: string[];
    hidden: number;
    calendars: readonly { name: string }[];
    /** Words that tapes are found by already. */
    tags: readonly string[];
    ondelete: (names: string[]) => Promise<void>;
    onchanged: () => Promise<void>;
    ondone: () => void;
  }
  let { names, hidden, calendars, tags, ondelete, onchanged, ondone }: Props = $props();

  let tag = $state('');
  let done = $state<number>();
  let problem = $state('');

  /** One tape after the other: what is refused is told, and the others are changed. */
  async function changeAll(change: TapeChange): Promise<void> {
    done = 0;
    problem = '';
    for (const name of names) {
      try {
        await changeTape(fetch, name, change);
      } catch (error) {
        if (!(error instanceof Refusal)) throw error;
        problem = `${name}: ${error.problem.detail}`;
      }
      done++;
    }
    done = undefined;
    await onchanged();
    if (!problem) ondone();
  }

  function addTag(event: SubmitEvent): void {
    event.preventDefault();
    const word = tag.trim();
    if (word) void changeAll({ addTags: [word] });
    tag = '';
  }
</script>

<div class="acts" role="group" aria-label="Tapes chosen">
  <span
    >{names.length.toLocaleString('en')} chosen{#if hidden > 0}, {hidden.toLocaleString('en')} of them not shown{/if}:</span
  >
  {#if done !== undefined}
    <span role="status">{done} of {names.length}…</span>
  {:else}
    <Button
      look="word"
      onclick={async () => {
        await ondelete(names);
        ondone();
      }}>delete</Button
    >
    {#if names.length <= MOST_MEMBERS}<a href="/compare?{new URLSearchParams(names.map((name) => ['member', name]))}"
        >compare</a
      >{/if}
    <a href="/roll?{new URLSearchParams(names.map((name) => ['tape', name]))}">roll</a>
    {#if calendars.length > 0}
      <Select
        aria-label="Calendar of those chosen"
        current={() => ''}
        onchange={(event) => changeAll({ calendar: event.currentTarget.value })}
      >
        <option value="" disabled>calendar…</option>
        {#each calendars as { name } (name)}<option value={name}>{name}</option>{/each}
      </Select>
    {/if}
    <form onsubmit={addTag}>
      <Input
        class="w-30!"
        bind:value={tag}
        list="shelf-tags"
        placeholder="tag…"
        aria-label="Tag those chosen"
        maxlength={30}
        autocomplete="off"
      />
      <Button type="submit" disabled={!tag.trim()}>add</Button>
      <datalist id="shelf-tags"
        >{#each tags as known (known)}<option value={known}></option>{/each}</datalist
      >
    </form>
    <Button onclick={ondone}>choose none</Button>
  {/if}
  {#if problem}<span class="problem" role="alert"><Said text={problem} /></span>{/if}
</div>

<style>
  .acts {
    position: sticky;
    top: 0;
    z-index: 5;
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 6px 18px;
    padding: 8px 20px;
    background: var(--paper-raised);
    border-bottom: 1px solid var(--rule);
  }
  form {
    display: flex;
    gap: 8px;
    align-items: baseline;
  }
  .problem {
    color: var(--wrong);
  }
</style>
