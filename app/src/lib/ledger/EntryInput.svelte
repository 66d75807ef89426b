<script lang="ts">
  import ComplaintText from './Complaint.svelte';
  import type { Complaint } from './ledgerSession.svelte';

  let { submit }: { submit: (text: string) => Promise<Complaint | undefined> } = $props();

  let text = $state('');
  let wrong = $state<{ text: string; complaint: Complaint }>();

  async function enter(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    const typed = text.trim();
    if (!typed) return;
    const complaint = await submit(typed);
    wrong = complaint && { text: typed, complaint };
    if (!complaint) text = '';
  }
</script>

<form onsubmit={enter}>
  <input
    bind:value={text}
    aria-label="New entry"
    placeholder="write an entry…"
    spellcheck="false"
    autocomplete="off"
    oninput={() => (wrong = undefined)}
  />
  {#if wrong}<ComplaintText text={wrong.text} complaint={wrong.complaint} />{/if}
</form>

<style>
  form {
    margin-left: 28px;
  }
  input {
    width: 100%;
    box-sizing: border-box;
    font-family: var(--mono);
    font-size: 12px;
    color: var(--ink);
    background: none;
    border: 0;
    border-bottom: 1px solid var(--rule);
    border-radius: 0;
    padding: 2px 0;
  }
  input::placeholder {
    color: var(--quiet);
    opacity: 0.75;
  }
  input:focus {
    outline: 0;
    box-shadow: none;
    border-bottom: 2px solid var(--blue);
    padding-bottom: 1px;
  }
</style>
