<script lang="ts">
  import Table from '$lib/components/Table.svelte';
  import Button from '$lib/components/Button.svelte';
  import Select from '$lib/components/Select.svelte';
  import { brief } from '$lib/pictures/lines';
  import { ORDERS, type ToldMatrix } from '$lib/works/comparison/work';
  import MatrixCanvas from './MatrixCanvas.svelte';
  import type { Compared } from './compareAddress';
  import { shortNames } from './shortNames';

  interface Props {
    compared: Compared;
    matrix: ToldMatrix;
    /** Common rows. */
    count: number;
    names: readonly string[];
    pair: { a: number; b: number } | undefined;
    change: (what: Partial<Compared>, group?: string) => void;
  }
  let { compared, matrix, count, names, pair, change }: Props = $props();

  /** Members whose figures have room in cells. */
  const MOST_WRITTEN = 9;
  const SAYS = {
    given: 'in the given order',
    name: 'by name',
    likeness: 'by similarity',
    reference: 'by the first of the pair',
  } as const;
  const order = $derived(matrix.order);
  /** Characters that headings have room for. */
  const room = $derived(Math.max(4, Math.floor(44 / Math.max(2, order.length))));
  const short = $derived(shortNames(names, room));
  const r = (i: number, j: number) => matrix.values[i][j];
  const cellText = (value: number | null) =>
    value === null ? '' : value.toFixed(2).replace('-', '−').replace('0.', '.').replace('1.00', '1');
  const isPicked = (i: number, j: number) => pair && ((pair.a === i && pair.b === j) || (pair.a === j && pair.b === i));
  const pick = (a: number, b: number) => a !== b && change({ a, b });
  const ground = (value: number | null) =>
    value === null
      ? 'none'
      : `color-mix(in srgb, var(--${value < 0 ? 'rust' : 'blue'}) ${Math.round(62 * Math.abs(value))}%, var(--paper))`;
  let showsEach = $state(false);
</script>

<h2>
  Correlations of {compared.of} over
  <Select
    look="word"
    aria-label="Bars of the correlations"
    value={compared.matrix}
    onchange={(event) => change({ matrix: event.currentTarget.value as Compared['matrix'] })}
  >
    <option value="window">the last {Math.min(compared.window, count).toLocaleString('en')} bars</option>
    <option value="all">all {count.toLocaleString('en')} bars</option>
  </Select>,
  <Select
    look="word"
    aria-label="Order of the members"
    value={compared.order}
    onchange={(event) => change({ order: event.currentTarget.value as Compared['order'] })}
  >
    {#each ORDERS as one (one)}<option value={one}>{SAYS[one]}</option>{/each}
  </Select>
</h2>
{#if order.length < 2}<p class="quiet">One column has nothing to go with.</p>
{:else if order.length > MOST_WRITTEN}
  <MatrixCanvas {order} values={matrix.values} {names} {pair} {pick} />
{:else}
  <Table look="bare" class="matrix">
    <thead
      ><tr
        ><td></td>{#each order as j (j)}<th scope="col" title={names[j]}><span>{short[j]}</span></th>{/each}</tr
      ></thead
    >
    <tbody>
      {#each order as i (i)}
        <tr>
          <th scope="row" title={names[i]}><span>{short[i]}</span></th>
          {#each order as j (j)}
            <td class:picked={isPicked(i, j)} style:background={i === j ? 'none' : ground(r(i, j))}
              >{#if i !== j}<Button
                  look="bare"
                  class={['size-full text-center text-(--ink)', Math.abs(r(i, j) ?? 0) > 0.75 && 'font-semibold']}
                  aria-label="{names[i]} with {names[j]}, {r(i, j) === null ? 'missing' : brief(r(i, j))}"
                  aria-pressed={isPicked(i, j) ? 'true' : 'false'}
                  onclick={() => pick(i, j)}>{cellText(r(i, j))}</Button
                >{/if}</td
            >
          {/each}
        </tr>
      {/each}
    </tbody>
  </Table>
{/if}
{#if order.length > 1}
  <Button class="text-[13px]" aria-expanded={showsEach} onclick={() => (showsEach = !showsEach)}
    >min, mean and max of each</Button
  >
  {#if showsEach}
    <div class="each">
      <Table look="listing" class="text-[13px]">
        <thead
          ><tr
            ><th scope="col">member</th>{#each ['min', 'mean', 'max'] as name (name)}<th scope="col" class="figure"
                >{name}</th
              >{/each}</tr
          ></thead
        >
        <tbody>
          {#each order as i (i)}
            <tr
              ><th scope="row">{names[i]}</th>{#each ['least', 'mean', 'greatest'] as const as part (part)}<td
                  class="figure">{matrix[part][i]?.toFixed(2).replace('-', '−') ?? ''}</td
                >{/each}</tr
            >
          {/each}
        </tbody>
      </Table>
    </div>
  {/if}
{/if}

<style>
  :global(.matrix) {
    border-collapse: separate;
    border-spacing: 2px;
    table-layout: fixed;
    width: 100%;
    font-size: 12.5px;
  }
  :global(.matrix) th {
    font-weight: 400;
  }
  :global(.matrix) th span {
    display: block;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  :global(.matrix) th[scope='row'] {
    text-align: right;
    padding-right: 4px;
  }
  td {
    padding: 0;
    text-align: center;
    height: 30px;
  }
  .picked {
    outline: 2px solid var(--margin-rule);
    outline-offset: -1px;
  }
  .each {
    max-height: 260px;
    overflow-y: auto;
  }
</style>
