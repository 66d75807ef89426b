import type { Rows } from './store';

/** Hands jobs to servers, by their ids: each to one of them, those of a higher priority first. */
export interface JobQueue {
  /** Puts a job in, within the write that makes it. */
  put(rows: Rows, id: string, priority: number): Promise<void>;
  /** Takes the next one out, for this server alone; undefined where none waits. */
  next(): Promise<string | undefined>;
  /** Whether some server has taken a job out. */
  isOut(id: string): Promise<boolean>;
  /** Lets another server take a job that one has taken out. */
  again(id: string): Promise<void>;
  /** Forgets a job that is at an end. */
  forget(id: string): Promise<void>;
  close(): Promise<void>;
}
