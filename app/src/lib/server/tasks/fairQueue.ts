import { Piscina, type PiscinaTask, type TaskQueue } from 'piscina';

/** Who waits for a task; told to the queue beside it. */
export interface QueuedBy {
  client: string;
  /** Whether it still waits. The queue sets it. */
  isWaiting: boolean;
}

/** Tasks that wait for a thread: those of each client in their order, the clients in turn. */
export class FairQueue implements TaskQueue {
  /** The client whose turn it is comes first. */
  private readonly byClient = new Map<string, PiscinaTask[]>();
  private count = 0;

  get size(): number {
    return this.count;
  }

  push(task: PiscinaTask): void {
    const by = queuedBy(task);
    const waiting = this.byClient.get(by.client);
    if (waiting) waiting.push(task);
    else this.byClient.set(by.client, [task]);
    by.isWaiting = true;
    this.count++;
  }

  shift(): PiscinaTask | null {
    for (const [client, waiting] of this.byClient) {
      const task = waiting.shift()!;
      this.byClient.delete(client);
      if (waiting.length > 0) this.byClient.set(client, waiting); // behind all others
      queuedBy(task).isWaiting = false;
      this.count--;
      return task;
    }
    return null;
  }

  remove(task: PiscinaTask): void {
    const { client } = queuedBy(task);
    const waiting = this.byClient.get(client) ?? [];
    const at = waiting.indexOf(task);
    if (at < 0) return;
    waiting.splice(at, 1);
    if (waiting.length === 0) this.byClient.delete(client);
    this.count--;
  }
}

/** What a task was queued with; the threads' own tasks, to close for example, are nobody's. */
const queuedBy = (task: PiscinaTask): QueuedBy =>
  (task[Piscina.queueOptionsSymbol as unknown as keyof PiscinaTask] as unknown as QueuedBy | null) ?? {
    client: '',
    isWaiting: false,
  };
