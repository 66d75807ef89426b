<script lang="ts">
  import Button from '$lib/components/Button.svelte';
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
  As CSV: {#each tables as { name, says, table }, at (name)}{at > 0 ? ', ' : ''}<Button
      look="word"
      onclick={() => saveAs(new Blob([csvText(table())], { type: 'text/csv' }), fileName(name))}>{says}</Button
    >{/each}. All pictures as
  <Button look="word" onclick={() => savePictures(plots, about, 'svg')}>SVG</Button>
  or <Button look="word" onclick={() => savePictures(plots, about, 'png')}>PNG</Button>.
</p>

<style>
  p {
    margin: 2px 0;
    font-size: 15px;
  }
</style>
