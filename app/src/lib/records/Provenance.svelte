<script lang="ts">
  import { CHECKS, wordsOf } from '@jaunty-ledger/files/checks/checks';
  import type { TapeDetails } from '$lib/api/tapes';
  import { WEEKDAY_NAMES } from './sessionGuess';

  let { tape }: { tape: TapeDetails } = $props();

  const reports = $derived([tape.report, ...tape.appended]);
  const daysText = (days: readonly string[]): string =>
    new Intl.ListFormat('en', { type: 'conjunction' }).format(days.map((day) => WEEKDAY_NAMES[day] ?? day));
  const TREATED: Record<string, string> = { keep: 'kept', flag: 'flagged', 'leave-out': 'left out', reported: 'told' };
  function foundText(id: string, count: number): string {
    const rule = CHECKS.find((one) => one.id === id);
    return `${count.toLocaleString('en')} ${rule ? wordsOf(rule, count) : id}`;
  }
  const shareText = (count: number, lines: number) =>
    lines > 0 && count / lines >= 0.0001 ? `, ${((100 * count) / lines).toPrecision(2)} %` : '';
</script>

{#each reports as report, index (index)}
  <h2>{index === 0 ? 'Source' : 'Added later'}</h2>
  <p>
    {report.file || 'a file without a name'}{report.bytes > 0 ? `, ${report.bytes.toLocaleString('en')} bytes` : ''}, {report.lines.toLocaleString(
      'en',
    )} lines, entered {report.enteredAt.slice(0, 16).replace('T', ' ')} UTC
    {#if report.sha256}<br /><span class="hash" title="SHA-256 of the file">{report.sha256}</span>{/if}
  </p>
  {#if report.closedWeekdays?.length}
    <p>
      No trading on {daysText(report.closedWeekdays)}: the file has no records on {report.closedWeekdays.length === 1
        ? 'this day'
        : 'these days'}, or on almost none. Change <i>weekdays</i> if there is.
    </p>
  {/if}
  {#if report.findings.length > 0}
    <ul>
      {#each report.findings as { id, count, treatment, examples } (id)}
        <li>
          <details>
            <summary>{foundText(id, count)}: {TREATED[treatment]}{shareText(count, report.lines)}</summary>
            <ol>
              {#each examples.slice(0, 8) as { line, says }, at (at)}<li>
                  <span>line {line.toLocaleString('en')}</span>
                  {says.replaceAll('`', '')}
                </li>{/each}
              {#if count > Math.min(8, examples.length)}<li>
                  and {(count - Math.min(8, examples.length)).toLocaleString('en')} more
                </li>{/if}
            </ol>
          </details>
        </li>
      {/each}
    </ul>
  {:else}<p>The checks found nothing.</p>{/if}
{/each}
{#if tape.calendarCheck}
  {@const { at, outside, closedDate } = tape.calendarCheck}
  <p>
    The calendar was changed {at.slice(0, 16).replace('T', ' ')} UTC. By the one of now, {outside.toLocaleString('en')}
    records are outside the session and {closedDate.toLocaleString('en')} on a closed date; what was left out before stays
    out.
  </p>
{/if}
{#if reports.some(({ leftOutCount }) => leftOutCount > 0)}
  <p><a href="/api/tapes/{tape.name}/left-out" download>The lines that were left out, as they stood</a></p>
{/if}

<style>
  h2 {
    font-size: 14px;
    font-weight: 400;
    font-style: italic;
    color: var(--quiet);
    margin: 14px 0 4px;
  }
  p {
    margin: 0 0 4px;
    font-size: 14px;
  }
  .hash {
    font-family: var(--mono);
    font-size: 11px;
    color: var(--quiet);
    overflow-wrap: anywhere;
  }
  ul,
  ol {
    list-style: none;
    margin: 0;
    padding: 0;
    font-size: 14px;
  }
  ol {
    padding: 2px 0 6px 18px;
    color: var(--quiet);
    font-size: 13px;
  }
  ol span {
    color: var(--ink);
  }
  summary {
    cursor: pointer;
  }
</style>
