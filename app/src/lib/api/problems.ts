import { z } from 'zod';

/** Every kind of refusal: its status and its title. The detail says what is wrong this time, in a plain sentence. */
export const PROBLEMS = {
  'invalid-query': { status: 400, title: 'Invalid query parameter' },
  'invalid-body': { status: 400, title: 'Invalid request body' },
  'invalid-rule': { status: 400, title: 'Invalid bar rule' },
  'invalid-formula': { status: 422, title: 'Invalid formula' },
  'unknown-tape': { status: 404, title: 'No such tape' },
  'unknown-calendar': { status: 404, title: 'No such calendar' },
  'unknown-ledger': { status: 404, title: 'No such ledger' },
  'unknown-page': { status: 404, title: 'No such page' },
  'unknown-session': { status: 404, title: 'No such session' },
  'unknown-link': { status: 404, title: 'No such link' },
  'unknown-person': { status: 404, title: 'No such user' },
  'unknown-job': { status: 404, title: 'No such job' },
  'unknown-address': { status: 404, title: 'No such address' },
  'wrong-method': { status: 405, title: 'Method not allowed' },
  'name-taken': { status: 409, title: 'The name is taken' },
  'ledger-changed': { status: 409, title: 'The ledger was changed elsewhere' },
  'page-changed': { status: 409, title: 'The page was changed elsewhere' },
  'empty-file': { status: 422, title: 'The file holds no records' },
  'no-time-column': { status: 422, title: 'No time column' },
  'no-price-column': { status: 422, title: 'No price column' },
  'date-order-open': { status: 422, title: 'Day or month first?' },
  'decimal-open': { status: 422, title: 'Decimal point or comma?' },
  'unreadable-lines': { status: 422, title: 'Some lines cannot be read' },
  'broken-body': { status: 400, title: 'The file is damaged or incomplete' },
  'too-large': { status: 413, title: 'The request is too large' },
  'too-many-bars': { status: 422, title: 'Too many bars' },
  'too-much-work': { status: 422, title: 'Too much work' },
  'too-many-words': { status: 422, title: 'Too many different words' },
  'too-many-columns': { status: 422, title: 'Too many columns' },
  'too-many-tapes': { status: 422, title: 'Too many instruments' },
  'too-busy': { status: 503, title: 'The server is busy' },
  'sender-silent': { status: 408, title: 'Idle timeout' },
  'not-allowed': { status: 403, title: 'Not allowed' },
  'read-only': { status: 403, title: 'Read-only token' },
  'token-needed': { status: 401, title: 'Sign-in required' },
  'too-many-guesses': { status: 429, title: 'Too many failed attempts' },
  'wrong-type': { status: 415, title: 'Unsupported media type' },
  'not-acceptable': { status: 406, title: 'Format not available' },
  'tape-changed': { status: 409, title: 'The tape was changed elsewhere' },
  'work-stopped': { status: 409, title: 'The job was stopped' },
  'store-busy': { status: 503, title: 'The database is busy' },
  'store-failed': { status: 507, title: 'The database could not be written' },
  'damaged-tape': { status: 500, title: 'A stored tape is damaged' },
  'internal-error': { status: 500, title: 'Internal error' },
} as const satisfies Record<string, { status: number; title: string }>;

export type ProblemCode = keyof typeof PROBLEMS;

/** A field of the request at fault, and how to put it right. */
export const FieldError = z.object({ field: z.string(), message: z.string() });
export type FieldError = z.infer<typeof FieldError>;

/** The body of a refusal: problem+json after RFC 9457, with the place in a file or a formula where there is one. */
export const Problem = z.object({
  type: z.string(),
  code: z.enum(Object.keys(PROBLEMS) as [ProblemCode, ...ProblemCode[]]),
  title: z.string(),
  status: z.number().int(),
  detail: z.string(),
  line: z.number().optional(),
  position: z.number().optional(),
  length: z.number().optional(),
  entry: z.string().optional(),
  entryIndex: z.number().optional(),
  errors: z.array(FieldError).optional(),
  /** Lines that could not be read, the first of them. */
  rejected: z.array(z.object({ line: z.number(), reason: z.string() })).optional(),
  rejectedCount: z.number().optional(),
});
export type Problem = z.infer<typeof Problem>;

export function makeProblem(code: ProblemCode, detail: string, more: Partial<Problem> = {}): Problem {
  const { status, title } = PROBLEMS[code];
  return { type: `/help/problems#${code}`, code, title, status, detail, ...more };
}

/** A refusal on its way to the answer. */
export class Refusal extends Error {
  override readonly name = 'Refusal';
  constructor(
    readonly problem: Problem,
    options?: ErrorOptions,
  ) {
    super(problem.detail, options);
  }
}

/** What an error says on screen: a refusal in its own words. */
export const reasonOf = (error: unknown): string => (error instanceof Refusal ? error.problem.detail : String(error));

export const refuse = (code: ProblemCode, detail: string, more?: Partial<Problem>, options?: ErrorOptions): Refusal =>
  new Refusal(makeProblem(code, detail, more), options);
