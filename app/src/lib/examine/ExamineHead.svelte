<script lang="ts">
  import type { ToldExamination } from '$lib/api/examinations';
  import { saveAs } from '$lib/plots/figuresOut';
  import { savePictures } from '$lib/pages/savePictures';
  import type { PageKeeper } from '$lib/pages/pageKeeper.svelte';
  import PageHead from '$lib/pages/PageHead.svelte';
  import type { Examined } from './examineAddress';
  import { csvText, type FiguresFile } from './examineFiles';

  interface Props {
    keeper: PageKeeper<Examined>;
    told: ToldExamination | undefined;
    files: readonly FiguresFile[];
    /** Where the pictures of the page are. */
    plots: HTMLElement | undefined;
    /** A name to begin with. */
    usualTitle: string;
  }
  let { keeper, told, files, plots, usualTitle }: Props = $props();

  let isExporting = $state(false);
  const fileName = (what: string) => `${told!.tape}_${what}`.replaceAll(/[^\w-]+/g, '_');
</script>

<PageHead {keeper} name="Examine" several="examinations" {usualTitle}>
  {#snippet acts()}
    <button
      type="button"
      class="aside"
      disabled={!told}
      aria-expanded={isExporting}
      onclick={() => (isExporting = !isExporting)}>export</button
    >
  {/snippet}
</PageHead>
{#if isExporting && told}
  <p class="line">
    As CSV: {#each files as file, at (file.name)}{at > 0 ? ', ' : ''}<button
        type="button"
        class="word"
        onclick={() => saveAs(new Blob([csvText(file)], { type: 'text/csv' }), `${fileName(file.name)}.csv`)}
        >{file.says}</button
      >{/each}. All pictures as
    <button type="button" class="word" onclick={() => savePictures(plots, told.tape, 'svg')}>SVG</button>
    or <button type="button" class="word" onclick={() => savePictures(plots, told.tape, 'png')}>PNG</button>.
  </p>
{/if}

<style>
  .line {
    margin: 2px 0;
    font-size: 15px;
  }
</style>
