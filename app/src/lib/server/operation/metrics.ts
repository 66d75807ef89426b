import {
  collectDefaultMetrics,
  Counter,
  Gauge,
  Histogram,
  openMetricsContentType,
  Registry,
  type OpenMetricsContentType,
} from 'prom-client';
import { importsInHand } from '../imports/importFile';
import { followersOpen } from '../live/eventStream';
import { feedsOpen } from '../live/liveService';
import { tasksInHand } from '../tasks/runTask';

/* What a server tells monitoring of its work, in the OpenMetrics format. */

const registry = new Registry<OpenMetricsContentType>();
registry.setContentType(openMetricsContentType);
const registers = [registry];
collectDefaultMetrics({ register: registry });

const answered = new Counter({
  name: 'jaunty_requests',
  help: 'Requests that were answered, by their route and status',
  labelNames: ['method', 'route', 'status'],
  registers,
});
const took = new Histogram({
  name: 'jaunty_request_seconds',
  help: 'Seconds until an answer began, by its route',
  labelNames: ['method', 'route'],
  buckets: [0.005, 0.02, 0.05, 0.1, 0.3, 1, 3, 10],
  registers,
});

const jobs = new Counter({
  name: 'jaunty_jobs',
  help: 'Jobs of servers that share a store which this one has brought to an end, by their kind and how they ended',
  labelNames: ['kind', 'state'],
  registers,
});

function gauge(name: string, help: string, value: () => number): void {
  new Gauge({
    ...{ name, help, registers },
    collect() {
      this.set(value());
    },
  });
}
gauge('jaunty_imports', 'Files that are being entered', importsInHand);
gauge('jaunty_feeds', 'Feeds that are open', feedsOpen);
gauge('jaunty_followers', 'Followers of tapes', followersOpen);
gauge('jaunty_tasks', 'Requests that are worked on or wait for their turn', tasksInHand);

/** Notes an answer. @param route  as it is written in the code, so that there are few */
export function noteAnswer(method: string, route: string | null, status: number, seconds: number): void {
  const labels = { method, route: route ?? 'none' };
  answered.inc({ ...labels, status });
  took.observe(labels, seconds);
}

export function noteJob(kind: string, state: string): void {
  jobs.inc({ kind, state });
}

export async function metricsAnswer(): Promise<Response> {
  return new Response(await registry.metrics(), { headers: { 'content-type': registry.contentType } });
}
