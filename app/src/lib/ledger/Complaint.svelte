<script lang="ts">
  import Said from '$lib/components/Said.svelte';
  import type { Complaint } from './complaint';

  let { text, complaint }: { text: string; complaint: Complaint } = $props();

  const at = $derived(Math.min(complaint.position, text.length));
  const marked = $derived(text.slice(at, at + Math.max(1, complaint.length)) || ' ');
</script>

<p role="alert">
  <span class="text"
    ><span>{text.slice(0, at)}</span><mark>{marked}</mark><span>{text.slice(at + marked.length)}</span></span
  >
  <span class="message"><Said text={complaint.message} /></span>
</p>

<style>
  p {
    margin: 2px 0 0;
    font-size: 12.5px;
    color: var(--wrong);
  }
  .text {
    display: block;
    font-family: var(--mono);
    font-size: 12px;
    color: var(--quiet);
    white-space: pre-wrap;
    overflow-wrap: anywhere;
  }
  mark {
    background: none;
    color: var(--wrong);
    text-decoration: underline wavy var(--wrong);
    text-underline-offset: 3px;
  }
</style>
