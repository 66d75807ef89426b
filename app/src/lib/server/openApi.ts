import { catalogue } from '@jaunty-ledger/core';
import { z } from 'zod';
import { KeptEntry } from '$lib/api/keptEntries';
import { Ledger, LedgerChange, LedgerFile, NewLedger } from '$lib/api/ledgers';
import { ProfileBody, ReadingBody, ReadingPreview } from '$lib/api/readings';
import { TapeSummary } from '$lib/api/summary';
import { BarQuery, ColumnsBody, ImportQuery, RecordQuery, Tape, TapeChange } from '$lib/api/tapes';
import { TABLE_FORMATS } from './files/tableWriter';

type Schema = z.ZodType;

interface Operation {
  path: string;
  method: 'get' | 'post' | 'put' | 'patch' | 'delete';
  says: string;
  query?: Schema;
  body?: Schema;
  /** A file as the body, of any of the formats that can be read. */
  takesFile?: true;
  answer?: Schema;
  /** The answer is a table, in the format that is accepted. */
  table?: true;
  status?: number;
}

const OPERATIONS: readonly Operation[] = [
  { path: '/api/tapes', method: 'get', says: 'The shelf.', answer: z.array(Tape) },
  {
    path: '/api/tapes',
    method: 'post',
    says: 'Enters a file as one tape or several.',
    query: ImportQuery,
    takesFile: true,
    answer: Tape,
    status: 201,
  },
  { path: '/api/tapes/{name}', method: 'get', says: 'One tape, with its report.', answer: Tape },
  {
    path: '/api/tapes/{name}',
    method: 'patch',
    says: 'Changes what is told of a tape.',
    body: TapeChange,
    answer: Tape,
  },
  { path: '/api/tapes/{name}', method: 'delete', says: 'Takes a tape off the shelf.', status: 204 },
  { path: '/api/tapes/{name}/restore', method: 'post', says: 'Puts it back, within a day.', status: 204 },
  {
    path: '/api/tapes/{name}/append',
    method: 'post',
    says: 'Adds a further file to a tape.',
    query: ImportQuery,
    takesFile: true,
    answer: Tape,
  },
  {
    path: '/api/tapes/{name}/records',
    method: 'get',
    says: 'Records as they were entered.',
    query: RecordQuery,
    table: true,
  },
  { path: '/api/tapes/{name}/summary', method: 'get', says: 'Figures of each column.', answer: TapeSummary },
  { path: '/api/tapes/{name}/left-out', method: 'get', says: 'The lines that were left out, as they stood.' },
  { path: '/api/tapes/{name}/bars', method: 'get', says: 'Bars of a tape.', query: BarQuery, table: true },
  {
    path: '/api/columns',
    method: 'post',
    says: 'Bars with a column for each formula.',
    body: ColumnsBody,
    table: true,
  },
  {
    path: '/api/readings',
    method: 'post',
    says: 'How a file would be read.',
    body: ReadingBody,
    answer: ReadingPreview,
  },
  {
    path: '/api/profiles',
    method: 'post',
    says: 'Keeps a reading for files of the same shape.',
    body: ProfileBody,
    status: 201,
  },
  { path: '/api/imports/{id}', method: 'get', says: 'How far an import has come.' },
  { path: '/api/ledgers', method: 'get', says: 'All ledgers, the one saved last first.', answer: z.array(Ledger) },
  { path: '/api/ledgers', method: 'post', says: 'Makes a ledger.', body: NewLedger, answer: Ledger, status: 201 },
  { path: '/api/ledgers/{id}', method: 'get', says: 'One ledger.', answer: Ledger },
  {
    path: '/api/ledgers/{id}',
    method: 'put',
    says: 'Saves a ledger on the version that it was changed from.',
    body: LedgerChange,
    answer: Ledger,
  },
  { path: '/api/ledgers/{id}', method: 'delete', says: 'Takes a ledger away.', status: 204 },
  { path: '/api/entries', method: 'get', says: 'Formulas kept for every ledger.', answer: z.array(KeptEntry) },
  {
    path: '/api/entries',
    method: 'post',
    says: 'Keeps a formula under its name.',
    body: KeptEntry,
    answer: KeptEntry,
    status: 201,
  },
  { path: '/api/entries/{name}', method: 'delete', says: 'Keeps a formula no longer.', status: 204 },
  { path: '/api/functions', method: 'get', says: 'Every function of the notation.' },
  { path: '/api/schemas/ledger', method: 'get', says: 'The JSON Schema of a ledger that is handed out as a file.' },
  { path: '/api/openapi.json', method: 'get', says: 'This description.' },
];

const schemaOf = (schema: Schema) =>
  // what a request may write and an answer holds are the same but for texts that are read into something else
  z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' });

const content = (types: readonly string[], schema: unknown) =>
  Object.fromEntries(types.map((type) => [type, { schema }]));

/** The interface in OpenAPI 3.1, made from the schemas that requests are read by and from the catalogue. */
export function openApi() {
  const paths: Record<string, Record<string, unknown>> = {};
  for (const operation of OPERATIONS) (paths[operation.path] ??= {})[operation.method] = described(operation);
  return {
    openapi: '3.1.0',
    info: { title: 'Jaunty Ledger', version: '1', description: 'Refusals are application/problem+json (RFC 9457).' },
    paths,
    components: { schemas: { LedgerFile: schemaOf(LedgerFile) } },
    'x-functions': [...catalogue.values()].map(({ name, sentence, example }) => ({ name, sentence, example })),
  };
}

function described({ path, says, query, body, takesFile, answer, table, status = 200 }: Operation) {
  const inPath = [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => ({
    name,
    in: 'path',
    required: true,
    schema: { type: 'string' },
  }));
  const fields = query ? (schemaOf(query) as { properties?: Record<string, unknown>; required?: string[] }) : {};
  const inQuery = Object.entries(fields.properties ?? {}).map(([name, schema]) => ({
    name,
    in: 'query',
    required: fields.required?.includes(name) ?? false,
    schema,
  }));
  const types = table ? Object.keys(TABLE_FORMATS) : answer ? ['application/json'] : [];
  return {
    summary: says,
    parameters: [...inPath, ...inQuery],
    ...(body && { requestBody: { required: true, content: content(['application/json'], schemaOf(body)) } }),
    ...(takesFile && {
      requestBody: {
        required: true,
        content: content(['application/octet-stream'], { type: 'string', format: 'binary' }),
      },
    }),
    responses: {
      [status]: {
        description: says,
        ...(types.length > 0 && { content: content(types, answer ? schemaOf(answer) : {}) }),
      },
      default: { description: 'A refusal.', content: content(['application/problem+json'], { type: 'object' }) },
    },
  };
}
