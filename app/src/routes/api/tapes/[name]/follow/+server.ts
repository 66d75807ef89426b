import { aliasesOf } from '$lib/api/tapes';
import { BAR_COLUMNS, parseBarRule, planEntries } from '@jaunty-ledger/core';
import { FollowQuery, FollowedRows } from '$lib/api/live';
import { refuse } from '$lib/api/problems';
import { tapeOf } from '$lib/server/http/answer';
import { endpoint } from '$lib/server/http/endpoint';
import { followAnswer } from '$lib/server/live/liveService';

const MOST_ENTRIES = 100;

export const GET = endpoint(
  {
    says: 'Follows a tape: server-sent events `rows` with the bar that is open as it changes, bars that have closed, and entries on both, ten a second at most. `Last-Event-ID` goes on where it broke off.',
    query: FollowQuery,
    answer: { events: FollowedRows },
    refuses: ['unknown-tape', 'invalid-rule', 'invalid-formula', 'too-many-bars', 'too-much-work', 'too-busy'],
    writes: false,
  },
  async ({ event, query }) => {
    const tape = await tapeOf(event);
    const entries = (query.entries ?? '').split('\n').filter((entry) => entry.trim() !== '');
    if (entries.length > MOST_ENTRIES)
      throw refuse('invalid-query', `${entries.length} entries are too many; ${MOST_ENTRIES} are followed at most.`);
    // what cannot be read is refused before anything comes
    parseBarRule(query.rule);
    planEntries(entries, {
      columns: [...BAR_COLUMNS, ...tape.numbers.map(({ name }) => name)],
      texts: tape.texts.map(({ name }) => name),
      words: new Map(tape.texts.map(({ name, words }) => [name, words])),
      self: tape.name,
      aliases: aliasesOf(tape),
    });
    const last = Number(event.request.headers.get('last-event-id') ?? NaN);
    const version = Number.isInteger(last) ? last : query.version;
    return followAnswer(tape, { rule: query.rule, flagged: query.flagged ?? true, entries }, version);
  },
);
