<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Input from 'flowbite-svelte/Input.svelte';
  import Label from 'flowbite-svelte/Label.svelte';
  import Progressbar from 'flowbite-svelte/Progressbar.svelte';
  import Select from 'flowbite-svelte/Select.svelte';
  import { enterTape } from '$lib/api/client';
  import { Refusal, type Problem } from '$lib/api/problems';
  import type { Tape } from '$lib/api/tapes';
  import Said from '$lib/components/Said.svelte';
  import { nameFor } from './shelfModel';

  let { file, tapes, ondone }: { file: File; tapes: Tape[]; ondone: (tape: Tape | undefined) => void } = $props();

  /** Lines of the file that are shown as they stand. */
  const SHOWN_LINES = 6;
  const SHOWN_BYTES = 4096;

  // svelte-ignore state_referenced_locally
  let name = $state(
    nameFor(
      file.name,
      tapes.map((tape) => tape.name),
    ),
  );
  let kind = $state('ticks');
  let zone = $state('Atlantic/Faroe');
  let session = $state('08:30-16:30');
  let lines = $state<string[]>([]);
  let problem = $state<Problem>();
  let abort = $state<AbortController>();

  /** Fields as lines of a form, not as boxes. */
  const FIELD =
    'rounded-none border-0 border-b border-(--rule) bg-transparent px-0 py-1 text-base font-normal text-(--ink) focus:border-(--blue) focus:ring-0 dark:bg-transparent dark:text-(--ink)';

  const kinds = [
    { value: 'ticks', name: 'trades: time, price, size' },
    { value: 'bars', name: 'bars: time, open, high, low, close, volume' },
  ];
  const zones = ['UTC', ...Intl.supportedValuesOf('timeZone').filter((known) => known !== 'UTC')];

  $effect(() => {
    void file
      .slice(0, SHOWN_BYTES)
      .text()
      .then((text) => {
        lines = text.split(/\r?\n/).slice(0, SHOWN_LINES);
        if (/open.*high.*low.*close/i.test(lines[0] ?? '')) kind = 'bars';
      });
  });

  async function enter(unreadable: 'refuse' | 'leave-out'): Promise<void> {
    problem = undefined;
    abort = new AbortController();
    try {
      const query: Record<string, string> = { name: name.trim(), kind, zone: zone.trim(), unreadable };
      if (session.trim()) Object.assign(query, { session: session.trim(), weekdays: 'Mon,Tue,Wed,Thu,Fri' });
      ondone(await enterTape(fetch, file, query, abort.signal));
    } catch (error) {
      if (error instanceof Refusal) ({ problem } = error);
      else if (!abort.signal.aborted) throw error;
    } finally {
      abort = undefined;
    }
  }
</script>

<section aria-label="Intake">
  <h2>{file.name} <span>{(file.size / 1e6).toFixed(file.size < 1e6 ? 3 : 1)} MB</span></h2>
  <div class="columns">
    <figure>
      <figcaption>The first lines as they stand</figcaption>
      <ol>
        {#each lines as line, index (index)}<li>{line}</li>{/each}
      </ol>
    </figure>
    <form
      onsubmit={(event) => {
        event.preventDefault();
        void enter('refuse');
      }}
    >
      <Label class="text-sm font-normal text-(--quiet)"
        >Name <Input class={FIELD} bind:value={name} required autocomplete="off" spellcheck="false" /></Label
      >
      <Label class="text-sm font-normal text-(--quiet)"
        >Each line is <Select classes={{ select: FIELD }} bind:value={kind} items={kinds} placeholder="" /></Label
      >
      <Label class="text-sm font-normal text-(--quiet)"
        >Zone of its times <Input
          class={FIELD}
          bind:value={zone}
          list="zones"
          required
          autocomplete="off"
          spellcheck="false"
        /></Label
      >
      <Label class="text-sm font-normal text-(--quiet)"
        >Session, if it has one <Input
          class={FIELD}
          bind:value={session}
          placeholder="none: the whole day"
          autocomplete="off"
        /></Label
      >
      <datalist id="zones"
        >{#each zones as known (known)}<option value={known}></option>{/each}</datalist
      >
      <div class="act">
        <Button type="submit" class="rounded-none px-4 py-2 text-base" disabled={abort !== undefined}
          >Enter on the shelf</Button
        >
        <button type="button" class="aside" onclick={() => (abort ? abort.abort() : ondone(undefined))}
          >{abort ? 'stop' : 'put it back'}</button
        >
        {#if abort}<span class="under-way" role="status"
            ><Progressbar progress={100} size="h-0.5" animate={false} color="primary" /> reading…</span
          >{/if}
      </div>
    </form>
  </div>
  {#if problem}
    <div class="problem" role="alert">
      {#if problem.code === 'unreadable-lines' && problem.rejectedCount}
        <p>
          {problem.rejectedCount === 1 ? 'One line cannot be read' : `${problem.rejectedCount} lines cannot be read`};
          nothing was entered.
        </p>
      {:else}
        <p><Said text={problem.detail} /></p>
      {/if}
      {#if problem.rejected && problem.rejected.length > 0}
        <ul>
          {#each problem.rejected.slice(0, 8) as { line, reason } (line)}<li>
              <span>line {line}</span>
              <Said text={reason} />
            </li>{/each}
          {#if (problem.rejectedCount ?? 0) > 8}<li>and {problem.rejectedCount! - 8} more</li>{/if}
        </ul>
        {#if problem.code === 'unreadable-lines'}
          <button type="button" class="word" onclick={() => enter('leave-out')}
            >Leave these lines out and enter the rest</button
          >
        {/if}
      {/if}
    </div>
  {/if}
</section>

<style>
  section {
    padding: 14px 20px 18px;
    border-bottom: 1px solid var(--rule);
    background: var(--paper-raised);
  }
  h2 {
    font-size: 18px;
  }
  h2 span {
    font-weight: 400;
    font-size: 14px;
    color: var(--quiet);
    margin-left: 8px;
  }
  .columns {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 1.3fr);
    gap: 28px;
    margin-top: 8px;
  }
  figure {
    margin: 0;
  }
  figcaption {
    font-style: italic;
    font-size: 14px;
    color: var(--quiet);
  }
  ol {
    margin: 4px 0 0;
    padding-left: 26px;
    font-family: var(--mono);
    font-size: 12px;
    line-height: 1.7;
    color: var(--ink);
    overflow: hidden;
    list-style: decimal;
  }
  ol li {
    white-space: pre;
    text-overflow: ellipsis;
    overflow: hidden;
  }
  ol li::marker {
    color: var(--quiet);
  }
  form {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 10px 20px;
    align-content: start;
  }
  .act {
    grid-column: 1 / -1;
    display: flex;
    align-items: center;
    gap: 14px;
    margin-top: 4px;
  }
  .under-way {
    flex: 1;
    font-style: italic;
    color: var(--quiet);
  }
  .problem {
    margin-top: 12px;
    color: var(--wrong);
  }
  .problem p {
    margin: 0;
  }
  .problem ul {
    margin: 6px 0 10px;
    padding: 0;
    list-style: none;
    color: var(--ink);
    font-size: 14px;
  }
  .problem li span {
    display: inline-block;
    min-width: 70px;
    color: var(--quiet);
  }
  .problem .word {
    color: var(--ink);
  }
  @media (max-width: 900px) {
    .columns {
      grid-template-columns: minmax(0, 1fr);
    }
  }
  @media (max-width: 500px) {
    form {
      grid-template-columns: 1fr;
    }
  }
</style>
