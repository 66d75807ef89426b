import { parentPort } from 'node:worker_threads';
import { workOut, type HalfOrder } from '$lib/compute/otherThread';

/* A second thread of a computation: the later half of a long Hurst. */

parentPort!.on('message', (order: HalfOrder) => workOut(order));
