<script lang="ts">
  import type { ToldExamination } from '$lib/api/examinations';
  import { saveAs } from '$lib/plots/figuresOut';
  import { svgAsPng } from '$lib/plots/picture';
  import type { ExamineKeeper } from './examineKeeper.svelte';
  import { csvText, pictureText, type FiguresFile } from './examineFiles';
  import KeptPages from './KeptPages.svelte';

  interface Props {
    keeper: ExamineKeeper;
    told: ToldExamination | undefined;
    files: readonly FiguresFile[];
    /** Where the pictures of the page are. */
    plots: HTMLElement | undefined;
    /** A name to begin with. */
    usualTitle: string;
  }
  let { keeper, told, files, plots, usualTitle }: Props = $props();

  let open = $state<'export' | 'kept' | 'naming'>();
  const toggle = (what: NonNullable<typeof open>) => (open = open === what ? undefined : what);
  const fileName = (what: string) => `${told!.tape}_${what}`.replaceAll(/[^\w-]+/g, '_');

  /** Each picture of the page as a file. */
  async function savePictures(as: 'svg' | 'png'): Promise<void> {
    for (const picture of plots?.querySelectorAll('svg') ?? []) {
      const text = pictureText(picture);
      const name = fileName((picture.getAttribute('aria-label') ?? 'picture').slice(0, 40));
      saveAs(as === 'png' ? await svgAsPng(text) : new Blob([text], { type: 'image/svg+xml' }), `${name}.${as}`);
    }
  }

  async function keep(title: string): Promise<void> {
    open = undefined;
    if (title.trim()) await keeper.keep(title.trim());
  }
</script>

<div class="book">
  <strong>Jaunty Ledger</strong> <em>Examine</em>
  {#if keeper.kept}<input
      class="title"
      aria-label="Name that it is kept under"
      value={keeper.kept.title}
      onchange={(event) => keeper.rename(event.currentTarget.value)}
    />{/if}
  <span class="acts">
    <button type="button" class="aside" disabled={!keeper.canUndo} onclick={() => keeper.undo()}>undo</button>
    <button type="button" class="aside" disabled={!keeper.canRedo} onclick={() => keeper.redo()}>redo</button>
    <button type="button" class="aside" aria-expanded={open === 'naming'} onclick={() => toggle('naming')}
      >{keeper.kept ? 'copy' : 'keep'}</button
    >
    <button type="button" class="aside" aria-expanded={open === 'kept'} onclick={() => toggle('kept')}>kept</button>
    <button
      type="button"
      class="aside"
      disabled={!told}
      aria-expanded={open === 'export'}
      onclick={() => toggle('export')}>export</button
    >
  </span>
</div>
{#if open === 'naming'}
  <form
    class="line"
    onsubmit={(event) => {
      event.preventDefault();
      void keep(String(new FormData(event.currentTarget).get('title')));
    }}
  >
    <label
      >keep it as
      <!-- svelte-ignore a11y_autofocus -->
      <input
        name="title"
        maxlength="120"
        autofocus
        value={keeper.kept ? `${keeper.kept.title}, copy` : usualTitle}
        onkeydown={(event) => event.key === 'Escape' && (open = undefined)}
      /></label
    >
    <button type="submit" class="word">Keep</button>
    <button type="button" class="aside" onclick={() => (open = undefined)}>close</button>
  </form>
{/if}
{#if open === 'kept'}<KeptPages open={keeper.kept?.id} onclose={() => (open = undefined)} />{/if}
{#if open === 'export' && told}
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
{#if keeper.problem}<p class="line problem" role="alert">Not saved: {keeper.problem}</p>{/if}
{#if keeper.isAstray}
  <p class="line" role="status">
    This address asks for something else than <em>{keeper.kept!.title}</em> keeps.
    <button type="button" class="word" onclick={() => keeper.showKept()}>Show what is kept</button> or
    <button type="button" class="word" onclick={() => keeper.keepShown()}>keep this instead</button>.
  </p>
{/if}

<style>
  .book {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 12px;
    align-items: baseline;
    font-size: 16px;
    margin-bottom: 4px;
  }
  em {
    color: var(--quiet);
  }
  .acts {
    display: flex;
    gap: 2px 12px;
    margin-left: auto;
  }
  .acts button:disabled {
    opacity: 0.45;
    text-decoration: none;
    cursor: default;
  }
  .title {
    flex: 1;
    min-width: 120px;
    font: inherit;
    color: var(--ink);
    background: none;
    border: 0;
    padding: 0;
  }
  .title:focus {
    box-shadow: none;
    outline: 0;
    border-bottom: 1px solid var(--blue);
  }
  .line {
    margin: 2px 0;
    font-size: 15px;
  }
  .line input {
    font: inherit;
    color: var(--ink);
    background: none;
    border: 0;
    border-bottom: 1px solid var(--rule);
    min-width: 260px;
  }
  .problem {
    color: var(--wrong);
  }
</style>
