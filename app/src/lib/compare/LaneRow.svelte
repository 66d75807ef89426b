<script lang="ts">
  import type { Snippet } from 'svelte';
  import Enlargeable from '$lib/pictures/Enlargeable.svelte';

  /** A lane: its margin with names and figures, and its plot. */
  let { label, margin, children }: { label: string; margin: Snippet; children: Snippet } = $props();
</script>

<section aria-label={label}>
  <div class="margin">{@render margin()}</div>
  <div class="plot"><Enlargeable label="the {label.toLowerCase()}">{@render children()}</Enlargeable></div>
</section>

<style>
  section {
    display: grid;
    grid-template-columns: 236px minmax(0, 1fr);
    border-bottom: 1px solid var(--rule);
  }
  .margin {
    padding: 6px 14px 6px 20px;
    border-right: 4px double var(--margin-rule);
    min-width: 0;
  }
  .plot {
    min-width: 0;
    padding-left: 2px;
  }
  @media (max-width: 700px) {
    section {
      grid-template-columns: minmax(0, 1fr);
    }
    .margin {
      border-right: 0;
    }
    .plot {
      padding: 0 20px;
    }
  }
</style>
