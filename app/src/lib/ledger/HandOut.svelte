<script lang="ts">
  import { Refusal } from '$lib/api/problems';
  import { pictureAsSvg, svgAsPng } from './picture';
  import { fetchFigures, FIGURE_FORMATS, saveAs } from './figuresOut';
  import type { LedgerSession } from './ledgerSession.svelte';

  let { session, onclose }: { session: LedgerSession; onclose: () => void } = $props();

  let stretch = $state<'view' | 'all'>('view');
  let isComplete = $state(false);
  let told = $state('');
  const name = $derived(session.title.replaceAll(/[^\w-]+/g, '_').slice(0, 60));

  async function hand(what: () => Promise<void>): Promise<void> {
    told = 'Making the file…';
    try {
      await what();
      told = 'The file is with your downloads.';
    } catch (error) {
      told = error instanceof Refusal ? error.problem.detail : String(error);
    }
  }

  const figures = (format: keyof typeof FIGURE_FORMATS) =>
    hand(async () =>
      saveAs(await fetchFigures(session, format, stretch, isComplete), `${name}.${FIGURE_FORMATS[format].ending}`),
    );
  const svg = () =>
    hand(() => Promise.resolve(saveAs(new Blob([pictureAsSvg(session)], { type: 'image/svg+xml' }), `${name}.svg`)));
  const png = () => hand(async () => saveAs(await svgAsPng(pictureAsSvg(session)), `${name}.png`));
</script>

<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
<div class="panel" role="group" aria-label="Hand out" onkeydown={(event) => event.key === 'Escape' && onclose()}>
  <p>
    The picture, with its title, its definitions and its source, as
    <button type="button" class="word" onclick={svg}>SVG</button> or
    <button type="button" class="word" onclick={png}>PNG</button>.
  </p>
  <p>
    The figures of
    <select class="word" bind:value={stretch} aria-label="Which bars">
      <option value="view">the bars in view</option>
      <option value="all">all bars</option>
    </select>,
    <select
      class="word"
      aria-label="Which rows"
      value={isComplete ? 'complete' : 'all'}
      onchange={(event) => (isComplete = event.currentTarget.value === 'complete')}
    >
      <option value="all">every row</option>
      <option value="complete">complete rows alone</option>
    </select>, as
    {#each Object.entries(FIGURE_FORMATS) as [format, { says }], index (format)}{index > 0 ? ', ' : ''}<button
        type="button"
        class="word"
        onclick={() => figures(format as keyof typeof FIGURE_FORMATS)}>{says}</button
      >{/each}.
  </p>
  <p class="told" role="status">{told}</p>
  <button type="button" class="aside" onclick={onclose}>close</button>
</div>

<style>
  .panel {
    position: absolute;
    z-index: 25;
    right: 20px;
    top: 44px;
    width: 420px;
    max-width: calc(100% - 40px);
    box-sizing: border-box;
    padding: 10px 16px;
    background: var(--paper);
    border: 1px solid var(--rule);
    border-top: 2px solid var(--ink);
    font-size: 15px;
    line-height: 1.6;
  }
  p {
    margin: 2px 0;
  }
  select {
    field-sizing: content;
    appearance: none;
    background-image: none;
    padding-right: 0;
    cursor: pointer;
  }
  select option {
    background: var(--paper);
  }
  .told {
    color: var(--quiet);
    font-style: italic;
    min-height: 1.4em;
  }
</style>
