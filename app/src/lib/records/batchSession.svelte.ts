import { enterTapes, previewReading } from '$lib/api/client';
import { Refusal } from '$lib/api/problems';
import { randomId } from '$lib/api/randomId';
import type { Tape } from '$lib/api/tapes';
import { proposedJoining, tapeNames, type Joining } from './batchNames';
import { fileEnds } from './fileEnds';
import type { ReadingPreview } from '@jaunty-ledger/files/reading/preview';
import type { IntakeSession } from './intakeSession.svelte';

/** Bytes of each file that are looked at beside the first one. */
const HEAD_BYTES = 48 << 10;
const PACKED_BYTES = 2 << 20;
/** Files that are looked at at once. */
const AT_ONCE = 3;

/** One of several files: what it looks like, and what has become of it. */
export interface BatchFile {
  file: File;
  /** How it would be read by itself. */
  preview: ReadingPreview | undefined;
  /** Times of its first and last record. */
  from: string;
  to: string;
  state: 'new' | 'waiting' | 'entering' | 'entered' | 'failed';
  /** Why it cannot be read, or was not entered; or how many records it has brought. */
  says: string;
}

/** Several files at once: one reading for all that look alike, joined to one tape or one tape each. */
export class BatchSession {
  files = $state<BatchFile[]>([]);
  isEntering = $state(false);
  /** Files that have been looked at. */
  looked = $state(0);
  /** Bytes of files that are through. */
  bytes = $state(0);
  private chosen = $state<Joining>();
  private stopped = new AbortController();

  /** @param lead  the first file: how it is read holds for all that look like it */
  constructor(
    readonly lead: IntakeSession,
    files: readonly File[],
    private readonly shelf: readonly string[],
  ) {
    this.files = files.map((file) => ({ file, preview: undefined, from: '', to: '', state: 'new', says: '' }));
    void this.lookAtAll();
  }

  get joining(): Joining {
    return this.chosen ?? proposedJoining(this.spans);
  }

  set joining(chosen: Joining) {
    this.chosen = chosen;
  }

  /** The tape of each file; of files that name instruments the tapes have the names of these. */
  get tapes(): string[] {
    return tapeNames(this.spans, this.joining, this.shelf);
  }

  get totalBytes(): number {
    return this.files.reduce((sum, { file }) => sum + file.size, 0);
  }

  isAlike({ preview }: BatchFile): boolean {
    return preview !== undefined && preview.shape === this.lead.preview?.shape;
  }

  /** Whether all files have been looked at. */
  get isReady(): boolean {
    return this.looked >= this.files.length;
  }

  /** Files that have not been entered yet. */
  get waiting(): BatchFile[] {
    return this.files.filter(({ state }) => state !== 'entered');
  }

  leaveOut(file: BatchFile): void {
    this.files = this.files.filter((one) => one !== file);
  }

  /**
   * Enters all files, the earliest first; one that is refused does not keep the others out.
   * @returns the tapes that came of them
   */
  async enter(): Promise<Tape[]> {
    if (!(await this.lead.settled())) return [];
    this.isEntering = true;
    this.stopped = new AbortController();
    this.bytes = 0;
    const tapes = new Map<string, Tape>();
    const names = new Map(this.files.map((file, at) => [file, this.tapes[at]]));
    const { joining } = this;
    const order = this.waiting.sort((a, b) => (a.from < b.from ? -1 : a.from > b.from ? 1 : 0));
    for (const file of order) file.state = 'waiting';
    for (const file of order) {
      if (this.stopped.signal.aborted) break;
      file.state = 'entering';
      file.says = '';
      try {
        const query = { ...this.queryOf(file, names.get(file)!), join: joining === 'join' ? 'yes' : 'no' };
        const entered = await enterTapes(fetch, file.file, query, randomId(32), this.stopped.signal);
        for (const tape of entered) tapes.set(tape.name, tape);
        file.state = 'entered';
        file.says = `entered in ${entered
          .map(({ name }) => name)
          .slice(0, 3)
          .join(', ')}${entered.length > 3 ? ' and more' : ''}`;
      } catch (error) {
        if (!(error instanceof Refusal) && !this.stopped.signal.aborted) throw error;
        file.state = 'failed';
        file.says = error instanceof Refusal ? error.problem.detail : 'stopped';
      }
      this.bytes += file.file.size;
    }
    this.isEntering = false;
    return [...tapes.values()];
  }

  /** One that looks otherwise is read by what is proposed for it alone. */
  private queryOf(file: BatchFile, name: string): Record<string, string> {
    if (this.isAlike(file)) return this.lead.queryFor(name, file.preview);
    return this.lead.calendarQuery(name);
  }

  stop(): void {
    this.stopped.abort();
  }

  private get spans() {
    return this.files.map(({ file, from, to }) => ({ name: file.name, from, to }));
  }

  private async lookAtAll(): Promise<void> {
    const waiting = [...this.files];
    const lookOn = async () => {
      for (let file = waiting.shift(); file; file = waiting.shift()) await this.look(file);
    };
    await Promise.all(Array.from({ length: AT_ONCE }, lookOn));
  }

  private async look(file: BatchFile): Promise<void> {
    try {
      const isPacked = /\.(parquet|arrow|feather|gz|zip|xlsx|xlsm)$/i.test(file.file.name);
      const ends = await fileEnds(file.file, HEAD_BYTES, isPacked ? PACKED_BYTES : HEAD_BYTES);
      const preview = await previewReading(fetch, { ...ends, choices: {}, zone: this.lead.zone.trim() || 'UTC' });
      const read = [...preview.first, ...preview.last].flatMap(({ read }) => (read ? [read[0]] : []));
      [file.from, file.to] = [read[0] ?? '', read.at(-1) ?? ''].sort();
      file.preview = preview;
      file.says = preview.problem ?? '';
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      file.says = error.problem.detail;
    } finally {
      this.looked++;
    }
  }
}
