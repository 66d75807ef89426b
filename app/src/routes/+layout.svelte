<script lang="ts">
  import '@fontsource-variable/source-serif-4/opsz.css';
  import '@fontsource-variable/source-serif-4/opsz-italic.css';
  import '@fontsource/ibm-plex-mono/latin-400.css';
  import '@fontsource/ibm-plex-mono/latin-600.css';
  import '../app.css';
  import type { Snippet } from 'svelte';
  import { ThemeProvider } from 'flowbite-svelte';
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import ThumbIndex from '$lib/components/ThumbIndex.svelte';
  import { isBeside } from '$lib/beside/sideLink';
  import { allowFiles, carryFiles } from '$lib/records/carriedFiles';
  import { followPaper } from '$lib/components/paper.svelte';
  import { THEME } from '$lib/components/theme';

  let { children }: { children: Snippet } = $props();

  let isFramed = $state(false);
  $effect(() => followPaper());
  $effect(() => void (isFramed = isBeside()));
</script>

<!-- Records takes files itself -->
<svelte:window
  ondragover={allowFiles}
  ondrop={(event) => {
    if (!['/records', '/signin'].includes(page.url.pathname) && carryFiles(event)) void goto('/records');
  }}
/>

<ThemeProvider theme={THEME}>
  <div class="book" class:framed={isFramed}>
    <main>{@render children()}</main>
    <!-- who is not in yet has nowhere to go -->
    {#if page.url.pathname !== '/signin' && !isFramed}<ThumbIndex />{/if}
  </div>
</ThemeProvider>

<style>
  .book {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 60px;
    min-height: 100dvh;
  }
  .book.framed {
    grid-template-columns: minmax(0, 1fr);
  }
  main {
    min-width: 0;
    border-right: 1px solid var(--rule);
    background: var(--paper);
  }
  @media print {
    .book {
      display: block;
      min-height: 0;
    }
    main {
      border: 0;
    }
  }
  @media (max-width: 700px) {
    .book {
      grid-template-columns: minmax(0, 1fr);
      grid-template-rows: auto 1fr;
    }
    main {
      grid-row: 2;
      border-right: 0;
    }
  }
</style>
