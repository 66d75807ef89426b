import { parentPort } from 'node:worker_threads';
import { workOut, type SharedOrder } from '$lib/compute/otherThread';

/* A second thread of a computation: the later rows of something long. */

parentPort!.on('message', (order: SharedOrder) => workOut(order));
