<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Select from '$lib/components/Select.svelte';
  import { reasonOf } from '$lib/api/problems';
  import { pictureAsSvg, svgAsPng } from '$lib/plots/picture';
  import { fetchFigures, FIGURE_FORMATS, saveAs } from '$lib/plots/figuresOut';
  import type { PlottedPage } from '$lib/plots/plottedPage';
  import Sheet from '$lib/plots/Sheet.svelte';

  let { page, onclose }: { page: PlottedPage; onclose: () => void } = $props();

  let stretch = $state<'view' | 'all'>('view');
  let isComplete = $state(false);
  let told = $state('');
  const name = $derived(page.title.replaceAll(/[^\w-]+/g, '_').slice(0, 60));

  async function hand(what: () => Promise<void>): Promise<void> {
    told = 'Making the file…';
    try {
      await what();
      told = 'The file is with your downloads.';
    } catch (error) {
      told = reasonOf(error);
    }
  }

  const figures = (format: keyof typeof FIGURE_FORMATS) =>
    hand(async () =>
      saveAs(await fetchFigures(page, format, stretch, isComplete), `${name}.${FIGURE_FORMATS[format].ending}`),
    );
  const svg = () =>
    hand(() => Promise.resolve(saveAs(new Blob([pictureAsSvg(page)], { type: 'image/svg+xml' }), `${name}.svg`)));
  const png = () => hand(async () => saveAs(await svgAsPng(pictureAsSvg(page)), `${name}.png`));
</script>

<Sheet label="Export" {onclose}>
  <p>
    The picture, with its title, its definitions and its source, as
    <Button look="word" onclick={svg}>SVG</Button> or
    <Button look="word" onclick={png}>PNG</Button>.
  </p>
  <p>
    The figures of
    <Select look="word" bind:value={stretch} aria-label="Which bars">
      <option value="view">the bars in view</option>
      <option value="all">all bars</option>
    </Select>,
    <Select
      look="word"
      aria-label="Which rows"
      value={isComplete ? 'complete' : 'all'}
      onchange={(event) => (isComplete = event.currentTarget.value === 'complete')}
    >
      <option value="all">every row</option>
      <option value="complete">complete rows only</option>
    </Select>, as
    {#each Object.entries(FIGURE_FORMATS) as [format, { says }], index (format)}{index > 0 ? ', ' : ''}<Button
        look="word"
        onclick={() => figures(format as keyof typeof FIGURE_FORMATS)}>{says}</Button
      >{/each}.
  </p>
  <p class="told" role="status">{told}</p>
</Sheet>

<style>
  .told {
    color: var(--quiet);
    font-style: italic;
    min-height: 1.4em;
  }
</style>
