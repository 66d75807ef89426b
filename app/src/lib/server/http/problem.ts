import { ArgumentError, BarRuleError, FormulaError } from '@jaunty-ledger/core';
import { FileError } from '@jaunty-ledger/files/fileError';
import type { z } from 'zod';
import { makeProblem, Refusal, refuse, type FieldError, type Problem } from '$lib/api/problems';
import { sentence } from '$lib/api/sentence';
import { log } from '../log';
import { KeyTakenError } from '../store/store';

/** The answer that carries a problem. */
export function problemAnswer(problem: Problem): Response {
  const headers = new Headers({ 'content-type': 'application/problem+json' });
  if (problem.status === 503) headers.set('retry-after', '5');
  if (problem.code === 'token-needed') headers.set('www-authenticate', 'Bearer realm="Jaunty Ledger"');
  return new Response(JSON.stringify(problem), { status: problem.status, headers });
}

/** Any error as a problem. One that nobody foresaw is logged whole and told without its insides. */
export function problemOf(error: unknown): Problem {
  if (error instanceof Refusal) return error.problem;
  if (error instanceof FileError) {
    const { code, message, line, rejected, rejectedCount } = error;
    return makeProblem(code, message, { line, ...(rejected && { rejected: [...rejected], rejectedCount }) });
  }
  if (error instanceof BarRuleError)
    return makeProblem('invalid-rule', sentence(error.message), { position: error.position });
  if (error instanceof FormulaError) {
    const { position, length, entry, entryIndex } = error;
    return makeProblem('invalid-formula', sentence(error.message), { position, length, entry, entryIndex });
  }
  if (error instanceof KeyTakenError) return makeProblem('name-taken', 'Something of that name is there already.');
  if (error instanceof ArgumentError) return makeProblem('invalid-query', sentence(error.message));
  log.error(error, 'unforeseen error');
  return makeProblem('internal-error', 'Unexpected error. Try again; the server log has the details.');
}

/** What a schema found wrong, field by field. */
function fieldErrors(error: z.ZodError): FieldError[] {
  return error.issues.map(({ path, message, code, ...rest }) => ({
    field: path.join('.') || ('keys' in rest ? rest.keys.join(', ') : ''),
    message: code === 'unrecognized_keys' ? 'is not known here; leave it out' : message,
  }));
}

/** Reads a query or a body by its schema. @throws {Refusal} with each field at fault */
export function readBy<Schema extends z.ZodType>(
  schema: Schema,
  input: unknown,
  code: 'invalid-query' | 'invalid-body',
): z.infer<Schema> {
  const result = schema.safeParse(input);
  if (result.success) return result.data;
  const errors = fieldErrors(result.error);
  const [{ field, message }] = errors;
  throw refuse(code, `${field ? `\`${field}\`: ` : ''}${message}.`, { errors });
}
