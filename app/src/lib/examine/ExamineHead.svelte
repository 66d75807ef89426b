<script lang="ts">
  import type { ToldExamination } from '$lib/api/examinations';
  import { saveAs } from '$lib/plots/figuresOut';
  import { svgAsPng } from '$lib/plots/picture';
  import type { PageKeeper } from '$lib/pages/pageKeeper.svelte';
  import PageHead from '$lib/pages/PageHead.svelte';
  import type { Examined } from './examineAddress';
  import { csvText, pictureText, type FiguresFile } from './examineFiles';

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

  /** Each picture of the page as a file. */
  async function savePictures(as: 'svg' | 'png'): Promise<void> {
    for (const picture of plots?.querySelectorAll('svg') ?? []) {
      const text = pictureText(picture);
      const name = fileName((picture.getAttribute('aria-label') ?? 'picture').slice(0, 40));
      saveAs(as === 'png' ? await svgAsPng(text) : new Blob([text], { type: 'image/svg+xml' }), `${name}.${as}`);
    }
  }
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
    <button type="button" class="word" onclick={() => savePictures('svg')}>SVG</button>
    or <button type="button" class="word" onclick={() => savePictures('png')}>PNG</button>.
  </p>
{/if}

<style>
  .line {
    margin: 2px 0;
    font-size: 15px;
  }
</style>
