<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Select from '$lib/components/Select.svelte';
  import { isDelimited, type Reading } from '@jaunty-ledger/files/reading/reading';
  import { readStyledNumber } from '@jaunty-ledger/files/records/numberText';
  import type { ReadingPreview } from '@jaunty-ledger/files/reading/preview';
  import type { IntakeSession } from './intakeSession.svelte';

  let { session, preview }: { session: IntakeSession; preview: ReadingPreview } = $props();

  const reading = $derived(preview.reading);
  const isText = $derived(reading.format === 'delimited');
  const isTable = $derived(isDelimited(reading.format));
  /** A date of the file, as it stands. */
  const written = $derived.by(() => {
    const at = reading.columns.findIndex(({ role }) => role === 'time' || role === 'date');
    return preview.first.map(({ cells }) => cells[at] ?? '').find((cell) => /\d/.test(cell)) ?? '01/02';
  });
  const formatText = $derived(
    {
      delimited: '',
      spreadsheet: 'a spreadsheet, ',
      ndjson: 'JSON lines, ',
      json: reading.layout === 'columns' ? 'JSON by columns, ' : `JSON${reading.path ? ` at ${reading.path}` : ''}, `,
      parquet: 'a Parquet file, ',
      arrow: 'an Arrow file, ',
    }[reading.format],
  );

  type Choice<Name extends keyof Reading> = { name: Name; says: string; options: [Reading[Name], string][] };
  const choice = <Name extends keyof Reading>(
    name: Name,
    says: string,
    options: [Reading[Name], string][],
  ): Choice<Name> => ({ name, says, options });

  const KIND = choice('kind', 'What each line is', [
    ['ticks', 'trades'],
    ['quotes', 'quotes'],
    ['bars', 'bars'],
    ['series', 'dated values'],
  ]);
  const DELIMITER = choice('delimiter', 'What parts the columns', [
    [',', 'commas'],
    [';', 'semicolons'],
    ['\t', 'tabs'],
    ['|', 'bars'],
    [' ', 'spaces'],
  ]);
  const HEADER = choice('header', 'The first line', [
    [true, 'names the columns'],
    [false, 'is a record'],
  ]);
  const DECIMAL = choice('decimal', 'The decimal mark', [
    ['.', 'point'],
    [',', 'comma'],
  ]);
  const ORDER = choice('dateOrder', 'The order of dates', [
    ['year-first', 'the year first'],
    ['day-first', 'the day first'],
    ['month-first', 'the month first'],
  ]);
  const LAYOUT = choice('layout', 'What is a record', [
    ['rows', 'each row'],
    ['across', 'each column'],
  ]);
  const SHEET = $derived(
    choice(
      'sheet',
      'The sheet',
      preview.sheets.map((sheet) => [sheet, sheet]),
    ),
  );
  const ENCODING = choice('encoding', 'The encoding', [
    ['utf-8', 'UTF-8'],
    ['utf-16le', 'UTF-16'],
    ['utf-16be', 'UTF-16, high byte first'],
    ['latin1', 'Latin-1'],
  ]);
</script>

{#snippet control<Name extends keyof Reading>({ name, says, options }: Choice<Name>)}
  <Select
    look="word"
    aria-label={says}
    value={String(reading[name])}
    onchange={(event) => {
      const chosen = options.find(([value]) => String(value) === event.currentTarget.value)!;
      session.choose({ [name]: chosen[0] });
    }}
  >
    {#each options as [value, text] (text)}<option value={String(value)}>{text}</option>{/each}
  </Select>
{/snippet}

<p class="sentence">
  It is read as {formatText}{@render control(KIND)}{#if preview.sheets.length > 0}, sheet {@render control(
      SHEET,
    )}{/if}{#if isText}, separated by {@render control(DELIMITER)}{/if}{#if isTable}; {@render control(LAYOUT)} is a record{/if}{#if isTable && reading.layout !== 'across'};
    its first line {@render control(HEADER)}{/if}; decimals follow a {@render control(
    DECIMAL,
  )}{#if preview.precision !== 'period'}; dates have {@render control(ORDER)}{/if}{#if isText}; in {@render control(
      ENCODING,
    )}{/if}.
  {#if preview.profile}<span class="note">Saved settings “{preview.profile}”.</span>{/if}
</p>
{#if preview.open.includes('dateOrder')}
  <p class="ask" role="alert">
    Is {written} written with
    {#each [['day-first', 'the day first'], ['month-first', 'the month first']] as const as [order, says], index (order)}{index >
      0
        ? ' or '
        : ''}<Button look="word" onclick={() => session.choose({ dateOrder: order })}>{says}</Button>{/each}? Both fit
    all dates read so far.
  </p>
{/if}

{#if preview.open.includes('decimal') && preview.figure !== undefined}
  {@const isComma = preview.figure.includes(',')}
  <p class="ask" role="alert">
    Does {preview.figure} mean
    {#each [['.', isComma], [',', !isComma]] as const as [decimal, isThousands], index (decimal)}{index > 0
        ? ' or '
        : ''}<Button look="word" onclick={() => session.choose({ decimal })}
        >{readStyledNumber(preview.figure, decimal).toLocaleString('en', { maximumFractionDigits: 6 })}
        {isThousands ? '(thousands)' : '(decimals)'}</Button
      >{/each}? Every figure has one mark before three digits.
  </p>
{/if}

<style>
  .sentence {
    margin: 4px 0 8px;
    font-size: 17px;
    line-height: 1.6;
  }
  .note {
    font-size: 14px;
    color: var(--quiet);
    font-style: italic;
  }
  .ask {
    margin: 0 0 8px;
    color: var(--wrong);
  }
</style>
