import { z } from 'zod';
import type { ProblemCode } from '$lib/api/problems';

/** One bound of the server: its setting, its usual value, what it bounds, and what it is answered with. */
interface Limit {
  setting: string;
  usual: number;
  says: string;
  problem: ProblemCode;
}

/** Every bound that can be set. docs/limits.md lists them for readers. */
const LIMITS = {
  uploadMegabytes: {
    setting: 'JAUNTY_MOST_UPLOAD_MB',
    usual: 8192,
    says: 'megabytes of a file that is entered, packed or not',
    problem: 'too-large',
  },
  bodyMegabytes: {
    setting: 'JAUNTY_MOST_BODY_MB',
    usual: 4,
    says: 'megabytes of any other body',
    problem: 'too-large',
  },
  previewMegabytes: {
    setting: 'JAUNTY_MOST_PREVIEW_MB',
    usual: 16,
    says: 'megabytes of the body of `POST /api/readings`, which holds parts of a file',
    problem: 'too-large',
  },
  growth: {
    setting: 'JAUNTY_MOST_GROWTH',
    usual: 200,
    says: 'times its size that a packed file grows to when it is unpacked; the first 16 MB are free',
    problem: 'too-large',
  },
  silenceSeconds: {
    setting: 'JAUNTY_SILENCE_SECONDS',
    usual: 60,
    says: 'seconds in which a sender sends nothing of a body',
    problem: 'sender-silent',
  },
  imports: {
    setting: 'JAUNTY_MOST_IMPORTS',
    usual: 64,
    says: 'files that are entered at once',
    problem: 'too-busy',
  },
  feeds: {
    setting: 'JAUNTY_MOST_FEEDS',
    usual: 64,
    says: 'feeds that are open at once',
    problem: 'too-busy',
  },
  followers: {
    setting: 'JAUNTY_MOST_FOLLOWERS',
    usual: 1000,
    says: 'pages and programs that follow a tape at once',
    problem: 'too-busy',
  },
  followedBars: {
    setting: 'JAUNTY_MOST_FOLLOWED_BARS',
    usual: 5_000_000,
    says: 'bars of all that is followed, together',
    problem: 'too-many-bars',
  },
  tapesOfFile: {
    setting: 'JAUNTY_MOST_TAPES_OF_FILE',
    usual: 200,
    says: 'tapes that one file makes',
    problem: 'too-many-tapes',
  },
  columns: {
    setting: 'JAUNTY_MOST_COLUMNS',
    usual: 256,
    says: 'columns of a file',
    problem: 'too-many-columns',
  },
  words: {
    setting: 'JAUNTY_MOST_WORDS',
    usual: 10_000,
    says: 'different words of a text column',
    problem: 'too-many-words',
  },
  bars: {
    setting: 'JAUNTY_MOST_BARS',
    usual: 5_000_000,
    says: 'bars of one answer, or that an answer is made of',
    problem: 'too-many-bars',
  },
  cells: {
    setting: 'JAUNTY_MOST_CELLS',
    usual: 60_000_000,
    says: 'figures of one answer: rows times columns',
    problem: 'too-much-work',
  },
  splitRecords: {
    setting: 'JAUNTY_SPLIT_RECORDS',
    usual: 40_000_000,
    says: 'records of a tape whose bars one server cuts; bars of a longer one are cut by all that share the store',
    problem: 'too-much-work',
  },
  taskSeconds: {
    setting: 'JAUNTY_MOST_SECONDS',
    usual: 120,
    says: 'seconds that one request is worked on',
    problem: 'too-much-work',
  },
  threadMegabytes: {
    setting: 'JAUNTY_MOST_THREAD_MB',
    usual: 2048,
    says: 'megabytes of memory for the objects of one worker thread',
    problem: 'too-much-work',
  },
  waiting: {
    setting: 'JAUNTY_MOST_WAITING',
    usual: 200,
    says: 'requests that wait for their turn',
    problem: 'too-busy',
  },
  answersMegabytes: {
    setting: 'JAUNTY_KEPT_ANSWERS_MB',
    usual: 64,
    says: 'size of the response cache in MB; least recently used entries are dropped',
    problem: 'too-busy',
  },
  keptBarsMegabytes: {
    setting: 'JAUNTY_KEPT_BARS_MB',
    usual: 256,
    says: 'size of the bar cache of each thread in MB; least recently used bars are dropped',
    problem: 'too-busy',
  },
} as const satisfies Record<string, Limit>;

export type LimitName = keyof typeof LIMITS;
export type Limits = Readonly<Record<LimitName, number>>;

const names = Object.keys(LIMITS) as LimitName[];

/** Settings of the limits, each a whole number from 1. */
export const LimitSettings = z.object(
  Object.fromEntries(
    names.map((name) => [LIMITS[name].setting, z.coerce.number().int().min(1).default(LIMITS[name].usual)]),
  ),
);

/** The limits of this process, from its environment. @throws with every setting that does not fit */
export function readLimits(environment: Record<string, string | undefined>): Limits {
  const read = LimitSettings.parse(environment) as Record<string, number>;
  return Object.fromEntries(names.map((name) => [name, read[LIMITS[name].setting]])) as Limits;
}
