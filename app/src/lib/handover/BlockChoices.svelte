<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Checkbox from '$lib/components/Checkbox.svelte';
  import Input from '$lib/components/Input.svelte';
  import Select from '$lib/components/Select.svelte';
  import Textarea from '$lib/components/Textarea.svelte';
  import { SCALES, type Block, type BlockOf, type ChartLine } from '$lib/api/handovers';
  import { makeCalendar } from '@jaunty-ledger/core';
  import { calendarOptions, type Tape } from '$lib/api/tapes';
  import StretchFields from '$lib/pages/StretchFields.svelte';
  import { INK_COUNT, INK_NAMES } from '$lib/chart/inks';
  import ScrubNumber from '$lib/components/ScrubNumber.svelte';
  import { originText } from './blockHtml';
  import { isAsking } from './issue';

  interface Props {
    /** The number of the page. */
    page: number;
    tapes: readonly Tape[];
    block: Block;
    isBusy: boolean;
    change: (block: Block, group?: string) => void;
    /** Takes the figures of a block anew. */
    refresh: (of: Block) => void;
    move: (by: number) => void;
    remove: () => void;
  }
  let { page, tapes, block, isBusy, change, refresh, move, remove }: Props = $props();

  const NAMES: Record<Block['kind'], string> = {
    paragraph: 'This paragraph',
    chart: 'This chart',
    table: 'This table',
    given: 'This table',
    picture: 'This picture',
    verdict: 'This verdict',
    checked: 'This checked box',
    divider: 'This rule',
  };
  const SCALE_NAMES: Record<(typeof SCALES)[number], string> = {
    fit: 'fitted',
    zero: 'from zero',
    log: 'logarithmic',
    rebased: '100 at the first row',
  };
  const LOOKS: Record<ChartLine['as'], string> = {
    strong: 'strong',
    plain: 'plain',
    pale: 'pale',
    columns: 'columns',
    out: 'left out',
  };

  function setLine(chart: BlockOf<'chart'>, panel: number, line: number, what: Partial<ChartLine>): void {
    const panels = chart.panels.map((one, at) =>
      at !== panel
        ? one
        : { ...one, lines: one.lines.map((other, place) => (place === line ? { ...other, ...what } : other)) },
    );
    change({ ...chart, panels });
  }
  const setPanel = (chart: BlockOf<'chart'>, panel: number, what: Partial<BlockOf<'chart'>['panels'][number]>) =>
    change({ ...chart, panels: chart.panels.map((one, at) => (at === panel ? { ...one, ...what } : one)) });

  /** A change of what is asked takes figures anew. */
  function ask(next: Block, group = ''): void {
    change(next, group);
    clearTimeout(timer);
    timer = setTimeout(() => refresh(next), 300);
  }
  let timer: ReturnType<typeof setTimeout> | undefined;

  const tape = $derived(
    'setting' in block && block.setting ? tapes.find(({ name }) => name === block.setting!.tape) : undefined,
  );
  const calendar = $derived(tape && makeCalendar(calendarOptions(tape)));
  let wrong = $state('');

  const origin = $derived.by(() => {
    if (block.kind === 'chart') return block.kept?.origin;
    if (block.kind === 'table' || block.kind === 'checked') return block.told?.origin;
    return block.kind === 'paragraph' ? (block.origin ?? undefined) : undefined;
  });
</script>

<h2>{NAMES[block.kind]}</h2>
{#if 'title' in block}
  <label
    >title
    <Input
      class="w-full!"
      value={block.title}
      maxlength={200}
      onchange={(event) => change({ ...block, title: event.currentTarget.value } as Block)}
    /></label
  >
{/if}
{#if block.kind === 'paragraph'}
  {#if block.figures.length > 0}
    <p class="quiet">{block.isDrafted ? 'Drafted; ' : ''}its figures follow their formulas:</p>
    <ul>
      {#each block.figures as { says, text, problem } (says)}
        <li>
          <code>{'{' + says + '}'}</code>
          {problem ? '' : text}{#if problem}<span class="problem">{problem}</span>{/if}
        </li>
      {/each}
    </ul>
  {:else}<p class="quiet">
      Any formula in braces is a figure of {block.setting ? block.setting.tape : 'a ledger'}, such as {'{last close}'}, {'{change 5 bars}'}
      or {'{mean(close, 20 bars)}'}.
    </p>{/if}
  {#if block.isDrafted}<p class="quiet">It is drafted again with new figures, until you edit it.</p>{/if}
{:else if block.kind === 'chart'}
  {@const chart = block}
  {#each chart.panels as panel, at (at)}
    <fieldset>
      <legend>{chart.panels.length > 1 ? `panel ${at + 1}` : 'lines'}</legend>
      {#each panel.lines as line, place (place)}
        <div class="own">
          <Input
            class="w-full!"
            aria-label="Name of {line.column}"
            value={line.label}
            placeholder={line.column}
            maxlength={120}
            onchange={(event) => setLine(chart, at, place, { label: event.currentTarget.value })}
          />
          <Select
            look="word"
            class="text-[14px]"
            aria-label="How {line.column} is drawn"
            value={line.as}
            onchange={(event) => setLine(chart, at, place, { as: event.currentTarget.value as ChartLine['as'] })}
          >
            {#each Object.entries(LOOKS) as [value, says] (value)}<option {value}>{says}</option>{/each}
          </Select>
          <Select
            look="word"
            class="text-[14px]"
            aria-label="Ink of {line.column}"
            value={String(line.ink)}
            onchange={(event) => setLine(chart, at, place, { ink: Number(event.currentTarget.value) })}
          >
            {#each Array.from({ length: INK_COUNT }, (_, ink) => ink) as ink (ink)}<option value={String(ink)}
                >{INK_NAMES[ink]}</option
              >{/each}
          </Select>
        </div>
      {/each}
      <p class="quiet">
        scale <Select
          look="word"
          class="text-[14px]"
          aria-label="Scale of panel {at + 1}"
          value={panel.scale}
          onchange={(event) => setPanel(chart, at, { scale: event.currentTarget.value as (typeof SCALES)[number] })}
          >{#each SCALES as scale (scale)}<option value={scale}>{SCALE_NAMES[scale]}</option>{/each}</Select
        >,
        <Input
          class="w-[11ch]!"
          aria-label="Currency of panel {at + 1}"
          placeholder="currency"
          title="Shown before each figure of its scale"
          value={panel.prefix}
          maxlength={8}
          onchange={(event) => setPanel(chart, at, { prefix: event.currentTarget.value })}
        />
        in
        <Input
          class="w-[11ch]!"
          aria-label="Unit of panel {at + 1}"
          placeholder="its unit"
          value={panel.unit}
          maxlength={16}
          onchange={(event) => setPanel(chart, at, { unit: event.currentTarget.value })}
        />
      </p>
    </fieldset>
  {/each}
  {#if chart.panels.length > 1}<label
      ><Checkbox
        checked={chart.oneScale}
        onchange={(event) => change({ ...chart, oneScale: event.currentTarget.checked })}
      /> one scale for all panels of prices</label
    >{/if}
{:else if block.kind === 'table'}
  {@const table = block}
  <p>
    <Select
      look="word"
      class="text-[14px]"
      aria-label="What the table shows"
      value={table.shows}
      onchange={(event) => ask({ ...table, shows: event.currentTarget.value as typeof table.shows })}
    >
      <option value="standing">latest values</option>
      <option value="rows">the last rows</option>
    </Select>,
    <ScrubNumber
      value={table.count}
      label="Rows of the table"
      most={200}
      onchange={(count) => ask({ ...table, count }, 'count')}
    />
    rows {table.shows === 'rows' ? '' : 'before'}
  </p>
{:else if block.kind === 'checked'}
  {@const checked = block}
  <p>
    the last <ScrubNumber
      value={checked.count}
      label="Rows that are checked"
      most={60}
      onchange={(count) => ask({ ...checked, count }, 'count')}
    />
    rows of
    <Input
      class="w-full!"
      aria-label="Column that is checked"
      value={checked.column}
      onchange={(event) => ask({ ...checked, column: event.currentTarget.value.trim() || 'close' })}
    />
  </p>
{:else if block.kind === 'verdict'}
  {@const verdict = block}
  <Textarea
    rows={5}
    aria-label="Words of the verdict"
    value={verdict.text}
    onchange={(event) => change({ ...verdict, text: event.currentTarget.value })}
  ></Textarea>
{/if}
{#if (block.kind === 'chart' || block.kind === 'table' || block.kind === 'checked') && origin}
  {@const asking = block}
  <p class="quiet">
    <StretchFields
      from={asking.setting.from}
      to={asking.setting.to}
      bars={asking.setting.bars}
      {tape}
      {calendar}
      mark=""
      change={(what, group) => ask({ ...asking, setting: { ...asking.setting, ...what } }, group)}
      wrong={(problem) => (wrong = problem)}
    />
    {#if wrong}<span class="problem">{wrong}</span>{/if}
  </p>
{/if}
{#if isAsking(block) && (block.kind !== 'paragraph' || block.setting)}
  {@const asking = block}
  <p>
    figures <Select
      look="word"
      class="text-[14px]"
      aria-label="Whether figures follow"
      value={asking.follows ? 'follow' : 'stay'}
      onchange={(event) => change({ ...asking, follows: event.currentTarget.value === 'follow' } as Block)}
    >
      <option value="follow">follow the tape</option>
      <option value="stay">are frozen</option>
    </Select>
    <Button look="word" disabled={isBusy} onclick={() => refresh(block)}>Refresh</Button>
  </p>
{:else if block.kind !== 'divider' && block.kind !== 'paragraph'}<p class="quiet">
    Copied from another page; its figures do not update.
  </p>{/if}
{#if block.kind === 'chart' && block.kept}
  <p class="quiet">
    its figures as
    {#each ['csv', 'parquet'] as const as format, at (format)}{at > 0 ? ' or ' : ''}<a
        href="/api/handovers/{page}/figures?block={block.id}&format={format}"
        download="figures.{format}">{format === 'csv' ? 'CSV' : 'Parquet'}</a
      >{/each}
  </p>
{/if}
{#if origin}<p class="quiet source">{originText(origin)}</p>{/if}
<p class="acts">
  <Button class="mr-3.5" onclick={() => move(-1)}>up</Button>
  <Button class="mr-3.5" onclick={() => move(1)}>down</Button>
  <Button onclick={remove}>remove</Button>
</p>

<style>
  label {
    display: block;
    margin: 2px 0 6px;
  }
  .own {
    display: grid;
    grid-template-columns: minmax(0, 1fr) auto auto;
    gap: 8px;
    margin: 2px 0;
  }
  fieldset {
    border: 0;
    border-top: 1px solid var(--rule-faint);
    margin: 4px 0;
    padding: 2px 0;
    min-width: 0;
  }
  legend {
    font-style: italic;
    color: var(--quiet);
    padding: 0 6px 0 0;
  }
  ul {
    list-style: none;
    margin: 0;
    padding: 0;
    font-size: 13px;
  }
  code {
    font-family: var(--mono);
    font-size: 12px;
    overflow-wrap: anywhere;
  }
  .problem {
    color: var(--wrong);
    display: block;
  }
  p {
    margin: 6px 0;
  }
  .source {
    overflow-wrap: anywhere;
  }
</style>
