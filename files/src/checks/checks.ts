import { z } from 'zod';

export const Treatment = z.enum(['keep', 'flag', 'leave-out']);
export type Treatment = z.infer<typeof Treatment>;

/** One thing that is looked for in records: what it is called, and what becomes of what it finds. */
export interface CheckRule {
  id: string;
  /** Which bit of a record's flags it has. Records that are stored hold it, so it never changes and is never given again. */
  bit: number;
  says: string;
  /** The same of a single one, where it is said in other words. */
  one?: string;
  /** What becomes of it if nobody says otherwise; `reported` can only be told. */
  usual: Treatment | 'reported';
  /** Treatments to choose from. */
  choices: readonly Treatment[];
}

const ALL = ['keep', 'flag', 'leave-out'] as const;

/** Every check, in the order in which reports list them. */
export const CHECKS = [
  {
    id: 'unreadable',
    bit: 0,
    says: 'lines that cannot be read',
    one: 'line that cannot be read',
    usual: 'leave-out',
    choices: ['leave-out'],
  },
  { id: 'no-price', bit: 1, says: 'price missing', usual: 'leave-out', choices: ['keep', 'leave-out'] },
  { id: 'not-positive', bit: 2, says: 'price not above 0', usual: 'leave-out', choices: ALL },
  { id: 'no-size', bit: 3, says: 'size missing', usual: 'keep', choices: ALL },
  { id: 'negative-size', bit: 16, says: 'size below 0', usual: 'leave-out', choices: ALL },
  { id: 'zero-size', bit: 4, says: 'size 0', usual: 'keep', choices: ALL },
  { id: 'repeat', bit: 5, says: 'exact repeats', one: 'exact repeat', usual: 'flag', choices: ALL },
  {
    id: 'out-of-order',
    bit: 6,
    says: 'records out of order, sorted into place',
    one: 'record out of order, sorted into place',
    usual: 'reported',
    choices: [],
  },
  {
    id: 'newest-first',
    bit: 17,
    says: 'tapes whose file begins with the newest record; turned round',
    one: 'tape whose file begins with the newest record; turned round',
    usual: 'reported',
    choices: [],
  },
  {
    id: 'same-instant',
    bit: 7,
    says: 'instants that occur more than once',
    one: 'instant that occurs more than once',
    usual: 'keep',
    choices: ['keep', 'flag'],
  },
  { id: 'outside', bit: 8, says: 'outside the session', usual: 'flag', choices: ALL },
  { id: 'closed-date', bit: 9, says: 'on a closed date', usual: 'flag', choices: ALL },
  { id: 'future', bit: 10, says: 'in the future', usual: 'flag', choices: ALL },
  {
    id: 'bad-print',
    bit: 11,
    says: 'price jumps that come back',
    one: 'price jump that reverts',
    usual: 'flag',
    choices: ALL,
  },
  { id: 'range', bit: 12, says: 'high below low, or open or close outside them', usual: 'flag', choices: ALL },
  { id: 'crossed', bit: 13, says: 'bid above ask', usual: 'flag', choices: ALL },
  {
    id: 'gap',
    bit: 14,
    says: 'gaps longer than usual for the time of day',
    one: 'gap longer than usual for the time of day',
    usual: 'reported',
    choices: [],
  },
  {
    id: 'repeated-time',
    bit: 15,
    says: 'local times that exist twice; the earlier was taken',
    one: 'local time that exists twice; the earlier was taken',
    usual: 'reported',
    choices: [],
  },
] as const satisfies readonly CheckRule[];

export type CheckId = (typeof CHECKS)[number]['id'];

const BY_ID: ReadonlyMap<string, CheckRule> = new Map(CHECKS.map((rule) => [rule.id, rule]));

export const checkRule = (id: CheckId): CheckRule => BY_ID.get(id)!;

/** The checks whose bits are set in the flags of a record. */
export const checksIn = (flags: number): CheckRule[] => CHECKS.filter(({ bit }) => flags & (1 << bit));

/** What so many findings of a check are called. */
export const wordsOf = ({ says, one }: CheckRule, count: number): string => (count === 1 ? (one ?? says) : says);

/** The bit of a check in the flags of a record. */
export const flagBit = (id: CheckId): number => 1 << checkRule(id).bit;

/** Checks of the calendar: what they find may be outside of all bars. */
export const BY_CALENDAR = ['outside', 'closed-date'] as const satisfies readonly CheckId[];

const OTHERS = BY_CALENDAR.reduce((bits, id) => bits & ~flagBit(id), -1);

/** Flags of a record without those of the calendar. */
export const withoutCalendar = (flags: number): number => flags & OTHERS;

export type Treatments = Partial<Record<CheckId, Treatment>>;

/** `repeat:leave-out,outside:keep` of a request. */
export const TreatmentChoices = z.string().transform((text, context): Treatments => {
  const chosen: Treatments = {};
  for (const part of text.split(',').filter(Boolean)) {
    const [id, treatment] = part.split(':').map((word) => word.trim());
    const rule = BY_ID.get(id);
    const choices: readonly string[] = rule?.choices ?? [];
    if (!rule || !choices.includes(treatment)) {
      const right = rule
        ? `\`${id}\` takes ${choices.join(' or ') || 'no choice'}`
        : `the checks are ${CHECKS.map((known) => known.id).join(', ')}`;
      context.addIssue({ code: 'custom', message: `\`${part.trim()}\` is no choice; ${right}` });
      return z.NEVER;
    }
    chosen[id as CheckId] = treatment as Treatment;
  }
  return chosen;
});

/** What a check found: how many, and the first of them with their lines. */
export const CheckFinding = z.object({
  id: z.string(),
  count: z.number().int(),
  treatment: z.string(),
  examples: z.array(z.object({ line: z.number().int(), says: z.string() })),
});
export type CheckFinding = z.infer<typeof CheckFinding>;
