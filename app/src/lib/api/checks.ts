import { z } from 'zod';

export const Treatment = z.enum(['keep', 'flag', 'leave-out']);
export type Treatment = z.infer<typeof Treatment>;

/** One thing that is looked for in records: what it is called, and what becomes of what it finds. */
export interface CheckRule {
  id: string;
  says: string;
  /** The same of a single one, where it is said in other words. */
  one?: string;
  /** What becomes of it if nobody says otherwise; `reported` can only be told. */
  usual: Treatment | 'reported';
  /** Treatments to choose from. */
  choices: readonly Treatment[];
}

const ALL = ['keep', 'flag', 'leave-out'] as const;

/** Every check, in the order in which reports list them. Flags of records are bits in this order. */
export const CHECKS = [
  {
    id: 'unreadable',
    says: 'lines that cannot be read',
    one: 'line that cannot be read',
    usual: 'leave-out',
    choices: ['leave-out'],
  },
  { id: 'no-price', says: 'price missing', usual: 'leave-out', choices: ['keep', 'leave-out'] },
  { id: 'not-positive', says: 'price not above 0', usual: 'leave-out', choices: ALL },
  { id: 'no-size', says: 'size missing', usual: 'keep', choices: ALL },
  { id: 'zero-size', says: 'size 0', usual: 'keep', choices: ALL },
  { id: 'repeat', says: 'exact repeats', one: 'exact repeat', usual: 'flag', choices: ALL },
  {
    id: 'out-of-order',
    says: 'records out of order, sorted into place',
    one: 'record out of order, sorted into place',
    usual: 'reported',
    choices: [],
  },
  {
    id: 'same-instant',
    says: 'instants that occur more than once',
    one: 'instant that occurs more than once',
    usual: 'keep',
    choices: ['keep', 'flag'],
  },
  { id: 'outside', says: 'outside the session', usual: 'flag', choices: ALL },
  { id: 'closed-date', says: 'on a closed date', usual: 'flag', choices: ALL },
  { id: 'future', says: 'in the future', usual: 'flag', choices: ALL },
  {
    id: 'bad-print',
    says: 'price jumps that come back',
    one: 'price jump that comes back',
    usual: 'flag',
    choices: ALL,
  },
  { id: 'range', says: 'high below low, or open or close outside them', usual: 'flag', choices: ALL },
  { id: 'crossed', says: 'bid above ask', usual: 'flag', choices: ALL },
  {
    id: 'gap',
    says: 'gaps longer than usual for the time of day',
    one: 'gap longer than usual for the time of day',
    usual: 'reported',
    choices: [],
  },
  {
    id: 'repeated-time',
    says: 'local times that exist twice; the earlier was taken',
    one: 'local time that exists twice; the earlier was taken',
    usual: 'reported',
    choices: [],
  },
] as const satisfies readonly CheckRule[];

export type CheckId = (typeof CHECKS)[number]['id'];

export const checkRule = (id: CheckId): CheckRule => CHECKS.find((rule) => rule.id === id)!;

/** What so many findings of a check are called. */
export const wordsOf = ({ says, one }: CheckRule, count: number): string => (count === 1 ? (one ?? says) : says);

/** The bit of a check in the flags of a record. */
export const flagBit = (id: CheckId): number => 1 << CHECKS.findIndex((rule) => rule.id === id);

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
    const rule = CHECKS.find((candidate) => candidate.id === id);
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
