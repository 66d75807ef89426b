<script lang="ts">
  import type { Snippet } from 'svelte';

  let { children }: { children: Snippet } = $props();
</script>

<div class="page">{@render children()}</div>

<style>
  .page {
    padding: 24px 20px;
    max-width: 60rem;
    font-size: 16px;
    line-height: 1.5;
    overflow-x: auto;
  }
  .page :global {
    h1 {
      font-size: 24px;
      font-weight: 400;
    }
    .problem {
      color: var(--wrong);
    }
    h2 {
      font-size: 18px;
      font-weight: 400;
      margin-top: 28px;
    }
    .hint {
      color: var(--quiet);
      font-size: 14px;
    }
    table {
      border-collapse: collapse;
      margin: 8px 0 16px;
      font-size: 15px;
    }
    th,
    td {
      text-align: left;
      font-weight: 400;
      padding: 4px 24px 4px 0;
      border-bottom: 1px solid var(--rule-faint);
      vertical-align: baseline;
    }
    thead th {
      font-style: italic;
      color: var(--quiet);
    }
    .make {
      display: flex;
      flex-wrap: wrap;
      gap: 8px 16px;
      align-items: baseline;
    }
    input,
    select {
      font: inherit;
      color: var(--ink);
      background: none;
      border: 0;
      border-bottom: 1px solid var(--rule);
    }
  }
</style>
