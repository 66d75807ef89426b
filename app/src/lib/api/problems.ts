/** Every kind of refusal: its status and its title. The detail says what is wrong this time, in a plain sentence. */
export const PROBLEMS = {
  'invalid-query': { status: 400, title: 'The request does not fit' },
  'invalid-body': { status: 400, title: 'The request does not fit' },
  'invalid-rule': { status: 400, title: 'The bar rule cannot be read' },
  'invalid-formula': { status: 422, title: 'The formula cannot be used' },
  'unknown-tape': { status: 404, title: 'No such tape' },
  'unknown-ledger': { status: 404, title: 'No such ledger' },
  'name-taken': { status: 409, title: 'The name is taken' },
  'ledger-changed': { status: 409, title: 'The ledger was changed elsewhere' },
  'empty-file': { status: 422, title: 'The file holds no records' },
  'no-time-column': { status: 422, title: 'No time column' },
  'no-price-column': { status: 422, title: 'No price column' },
  'unreadable-lines': { status: 422, title: 'Some lines cannot be read' },
  'broken-body': { status: 400, title: 'The file broke off' },
  'too-large': { status: 413, title: 'The request is too large' },
  'not-allowed': { status: 403, title: 'Not allowed' },
  'token-needed': { status: 401, title: 'A token is needed' },
  'not-acceptable': { status: 406, title: 'No such format' },
  'store-failed': { status: 507, title: 'The store could not be written' },
  'damaged-tape': { status: 500, title: 'A stored tape is damaged' },
  'internal-error': { status: 500, title: 'Something went wrong here' },
} as const satisfies Record<string, { status: number; title: string }>;

export type ProblemCode = keyof typeof PROBLEMS;

/** A field of the request at fault, and how to put it right. */
export interface FieldError {
  field: string;
  message: string;
}

/** Where in a file or a formula. */
export interface Place {
  line?: number;
  position?: number;
  length?: number;
  entry?: string;
  entryIndex?: number;
}

/** The body of a refusal: problem+json after RFC 9457. */
export interface Problem extends Place {
  type: string;
  code: ProblemCode;
  title: string;
  status: number;
  detail: string;
  errors?: FieldError[];
  /** Lines that could not be read, the first of them. */
  rejected?: { line: number; reason: string }[];
  rejectedCount?: number;
}

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

export const refuse = (code: ProblemCode, detail: string, more?: Partial<Problem>, options?: ErrorOptions): Refusal =>
  new Refusal(makeProblem(code, detail, more), options);
