<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import type { ToldExamination } from '$lib/works/examination/work';
  import { chartOf, verdictOf, type HandedOver } from '$lib/handover/blocks';
  import HandOver from '$lib/handover/HandOver.svelte';
  import { picturesIn } from '$lib/handover/picturesIn';
  import ExportLine from '$lib/pages/ExportLine.svelte';
  import type { PageKeeper } from '$lib/pages/pageKeeper.svelte';
  import PageHead from '$lib/pages/PageHead.svelte';
  import type { Examined } from './examineAddress';
  import type { FiguresFile } from './examineFiles';

  interface Props {
    keeper: PageKeeper<Examined>;
    examined: Examined;
    told: ToldExamination | undefined;
    files: readonly FiguresFile[];
    /** Where the pictures of the page are. */
    plots: HTMLElement | undefined;
    /** A name to begin with. */
    usualTitle: string;
  }
  let { keeper, examined, told, files, plots, usualTitle }: Props = $props();

  let isExporting = $state(false);

  const source = $derived(
    told
      ? `${examined.entry} of ${told.tape}, bars of ${told.rule}; from Examine, taken ${new Date().toISOString().slice(0, 10)}`
      : '',
  );
  const handedOver: HandedOver[] = [
    {
      says: 'the verdicts',
      make: async () =>
        told!.verdicts.map(({ asks, says, figures, but }) =>
          verdictOf(asks, [says, but].filter(Boolean).join(' '), figures, source),
        ),
    },
    { says: 'the pictures', make: () => picturesIn(plots, source) },
    {
      says: 'the series as a chart',
      make: async (sources) => {
        const { tape, bars, entry, uses, from, to } = examined;
        const setting = { tape, bars, flagged: true, alone: null, entries: [...uses, `examined = ${entry}`], from, to };
        const lines = [{ column: 'examined', label: entry, as: 'plain' as const, ink: 0 }];
        return [
          await chartOf(`${entry} of ${tape}`, setting, [{ lines, scale: 'fit', unit: '', prefix: '' }], sources),
        ];
      },
    },
  ];
</script>

<PageHead {keeper} name="Examine" several="examinations" {usualTitle}>
  {#snippet acts()}
    <HandOver title={usualTitle} choices={handedOver} disabled={!told} />
    <Button disabled={!told} aria-expanded={isExporting} onclick={() => (isExporting = !isExporting)}>export</Button>
  {/snippet}
</PageHead>
{#if isExporting && told}<ExportLine
    about={told.tape}
    tables={files.map((file) => ({ ...file, table: () => file }))}
    {plots}
  />{/if}
