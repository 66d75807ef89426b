<script lang="ts">
  import { bringFormula } from '$lib/components/broughtFormula';

  let { tape, formula }: { tape: string; formula: string } = $props();
</script>

<p>
  <a href="/ledger?{new URLSearchParams({ tape, write: formula })}" onclick={() => bringFormula(formula)}
    >Write it into the ledger</a
  >: <code>{formula}</code>
</p>

<style>
  p {
    margin: 2px 0;
    font-size: 13px;
    color: var(--quiet);
  }
  code {
    font-family: var(--mono);
    font-size: 12px;
    overflow-wrap: anywhere;
  }
</style>
