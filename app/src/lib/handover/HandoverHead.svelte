<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Input from '$lib/components/Input.svelte';
  import { page } from '$app/state';
  import Sharing from '$lib/access/Sharing.svelte';
  import { HandoverBody, type NewPageLink } from '$lib/api/handovers';
  import { linkToHandover } from '$lib/api/client';
  import { reasonOf } from '$lib/api/problems';
  import TextField from '$lib/components/TextField.svelte';
  import type { PageKeeper } from '$lib/pages/pageKeeper.svelte';
  import { saveAs } from '$lib/plots/figuresOut';
  import { fileName } from './blockHtml';
  import { documentHtml } from './documentHtml';
  import PageLinks from './PageLinks.svelte';
  import { filesOfPage, zipOf } from './filesOfPage';

  interface Props {
    keeper: PageKeeper<HandoverBody>;
    id: number;
    title: string;
    isBusy: boolean;
    /** Makes the next issue. */
    again: () => void;
  }
  let { keeper, id, title, isBusy, again }: Props = $props();

  const body = $derived(keeper.now);
  /** Days that a link to read the page holds. */
  const LINK_DAYS = 30;
  let link = $state.raw<NewPageLink>();
  let problem = $state('');

  function setDay(day: string): void {
    const isDay = HandoverBody.shape.day.safeParse(day).success;
    problem = isDay ? '' : `“${day}” is no day. Write it as 2026-04-24.`;
    if (isDay) keeper.change({ day });
  }

  async function makeLink(): Promise<void> {
    try {
      const { address, ...made } = await linkToHandover(fetch, id, LINK_DAYS);
      link = { ...made, address: new URL(address, location.href).href };
      problem = '';
    } catch (error) {
      problem = reasonOf(error);
    }
  }

  const name = $derived(fileName(title));
  const saveHtml = () => saveAs(new Blob([documentHtml(title, body)], { type: 'text/html' }), `${name}.html`);
  const saveZip = () => saveAs(new Blob([zipOf(filesOfPage(title, body))], { type: 'application/zip' }), `${name}.zip`);
</script>

<header class="page-head">
  <div class="book">
    <strong>Jaunty Ledger</strong> <em><a href="/handover">Hand over</a></em>
    {#if page.data.visitor}<Sharing
        path="/api/handovers/{id}/sharing"
        of="this page"
        choices={['change', 'read', 'nothing']}
      />{/if}
    <span class="acts">
      <Button disabled={!keeper.canUndo} onclick={() => keeper.undo()}>undo</Button>
      <Button disabled={!keeper.canRedo} onclick={() => keeper.redo()}>redo</Button>
      <Button disabled={isBusy} onclick={again}>update with latest data</Button>
      <Button onclick={() => window.print()}>print</Button>
      <Button onclick={saveHtml}>HTML</Button>
      <Button title="Markdown, pictures and figures in a zip" onclick={saveZip}>files</Button>
      <a class="aside" href="/read/{id}" target="_blank">read</a>
      <Button onclick={makeLink}>link</Button>
    </span>
  </div>
  <h1>
    <TextField look="word" aria-label="Title" value={title} maxlength={120} change={(text) => keeper.rename(text)} />,
    for
    <TextField
      look="word"
      aria-label="Who it is for"
      placeholder="nobody yet"
      value={body.reader}
      maxlength={120}
      change={(text) => keeper.change({ reader: text.trim() })}
    />, by
    <TextField
      look="word"
      aria-label="Who it is by"
      placeholder="nobody yet"
      value={body.author}
      maxlength={120}
      change={(text) => keeper.change({ author: text.trim() })}
    />, of
    <TextField
      look="word"
      aria-label="Of what day"
      placeholder="no day"
      title="Such as 2026-04-24"
      value={body.day}
      change={(text) => setDay(text.trim())}
    />.
  </h1>
  {#if problem}<p class="problem" role="alert">{problem}</p>{/if}
  {#if link}<p class="link" role="status">
      {link.until
        ? `Anyone with this address can read this page, and nothing else, until ${link.until.slice(0, 10)}:`
        : 'Address of this page for readers:'}
      <Input
        class="w-[min(640px,100%)]! font-mono text-[13px]"
        readonly
        aria-label="Address to read the page"
        value={link.address}
        onfocus={(event) => event.currentTarget.select()}
      />
      {link.until ? '' : 'No token is set: anyone who can reach this server can read everything on it.'}
    </p>
    <PageLinks page={id} newest={link.id} />{/if}
</header>

<style>
  .book {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 8px;
    align-items: baseline;
  }
  .acts {
    margin-left: auto;
    display: flex;
    flex-wrap: wrap;
    gap: 4px 18px;
  }
  h1 :global(input.word) {
    field-sizing: content;
    min-width: 3ch;
    max-width: 100%;
  }
  .problem,
  .link {
    margin: 4px 0 0;
    font-size: 14px;
  }
  .problem {
    color: var(--wrong);
  }
  @media print {
    header {
      display: none;
    }
  }
</style>
