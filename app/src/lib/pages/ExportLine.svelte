<script lang="ts">
  import { saveAs } from '$lib/plots/figuresOut';
  import { csvText, type FigureTable } from './figureFiles';
  import { savePictures } from './savePictures';

  interface Props {
    /** What the files are of, in their names. */
    about: string;
    /** Figures, each with the name that its file ends with; made where they are asked for. */
    tables: readonly { name: string; says: string; table: () => FigureTable }[];
    /** Where the pictures of the page are. */
    plots: HTMLElement | undefined;
  }
  let { about, tables, plots }: Props = $props();

  const fileName = (what: string) => `${about}_${what}.csv`.replaceAll(/[^\w.-]+/g, '_');
</script>

<p>
  As CSV: {#each tables as { name, says, table }, at (name)}{at > 0 ? ', ' : ''}<button
      type="button"
      class="word"
      onclick={() => saveAs(new Blob([csvText(table())], { type: 'text/csv' }), fileName(name))}>{says}</button
    >{/each}. All pictures as
  <button type="button" class="word" onclick={() => savePictures(plots, about, 'svg')}>SVG</button>
  or <button type="button" class="word" onclick={() => savePictures(plots, about, 'png')}>PNG</button>.
</p>

<style>
  p {
    margin: 2px 0;
    font-size: 15px;
  }
</style>
