import { instantOf } from '@jaunty-ledger/core';
import type { Table, TableColumn } from '@jaunty-ledger/files/tables/table';
import { TABLE_FORMATS, writeTable } from '@jaunty-ledger/files/tables/tableWriter';
import { FiguresQuery, type BlockOf } from '$lib/api/handovers';
import { refuse } from '$lib/api/problems';
import { formatOf } from '$lib/server/http/answer';
import { documentOf } from '$lib/server/http/documents';
import { endpoint } from '$lib/server/http/endpoint';
import { logged } from '$lib/server/log';
import { HANDOVERS } from '$lib/server/http/handovers';

export const GET = endpoint(
  {
    says: 'The figures that a chart of a page was drawn from.',
    query: FiguresQuery,
    answer: 'table',
    refuses: ['unknown-page', 'invalid-query'],
    writes: false,
  },
  async ({ event, query }) => {
    const { body, title } = await documentOf(event, HANDOVERS);
    const block = body.blocks.find(({ id }) => id === query.block);
    if (block?.kind !== 'chart' || !block.kept) {
      const charts = body.blocks.filter(({ kind }) => kind === 'chart').map(({ id }) => id);
      throw refuse(
        'invalid-query',
        `The page has no chart ${query.block} with figures.${charts.length > 0 ? ` Its charts are ${charts.join(', ')}.` : ''}`,
      );
    }
    const format = query.format ?? formatOf(event.request);
    const bytes = writeTable(tableOf(block.kept), {
      format,
      about: { tape: block.kept.origin.tape },
      forSpreadsheet: query.csv === 'spreadsheet',
    });
    logged(event, 'exported', { page: title, block: query.block, format, bytes: bytes.length });
    const type = Object.entries(TABLE_FORMATS).find(([, name]) => name === format)![0];
    return new Response(bytes as Uint8Array<ArrayBuffer>, { headers: { 'content-type': type, vary: 'accept' } });
  },
);

function tableOf({ time, columns }: NonNullable<BlockOf<'chart'>['kept']>): Table {
  return [
    { name: 'time', kind: 'instants', values: Float64Array.from(time, instantOf) },
    ...Object.entries(columns).map(([name, values]): TableColumn => ({
      ...{ name, kind: 'numbers' },
      values: Float64Array.from(values, (value) => value ?? NaN),
    })),
  ];
}
