import { ask } from '$lib/api/ask';
import { fromArrow } from '@jaunty-ledger/files/tables/table';
import { ComputeService, type TableAt } from './computeService';
import type { ToWorker } from './protocol';

const ARROW = { headers: { accept: 'application/vnd.apache.arrow.stream' } };

const tableAt: TableAt = async (path) => {
  const response = await ask(fetch, path, ARROW);
  const table = fromArrow(new Uint8Array(await response.arrayBuffer()));
  return { table, version: response.headers.get('tape-version') };
};

const service = new ComputeService(
  tableAt,
  (message, transfer = []) => self.postMessage(message, { transfer }),
  self.crossOriginIsolated,
);

self.onmessage = ({ data }: MessageEvent<ToWorker>) => void service.hear(data);
