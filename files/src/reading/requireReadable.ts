import type { Findings } from '../checks/findings.js';
import { FileError } from '../fileError.js';
import type { RecordReader } from '../records/recordReader.js';

/** Where more of the lines cannot be read, the reading is more likely wrong than the lines; unless one says so. */
const MOST_UNREADABLE = 0.1;

/**
 * @param lines    of the file, all of which were read
 * @param isAsked  whether lines that cannot be read are left out on request, however many they are
 * @throws {FileError} where no record came out of a file, or too few of its lines could be read
 */
export function requireReadable(findings: Findings, reader: RecordReader, lines: number, isAsked: boolean): void {
  const rejected = findings.examplesOf('unreadable').map(({ line, says }) => ({ line, reason: says }));
  const unreadable = findings.countOf('unreadable');
  const sentences = rejected
    .slice(0, 3)
    .map(({ line, reason }) => `Line ${line}: ${reason}.`)
    .join(' ');
  const more = { rejected, rejectedCount: unreadable };
  if (reader.rows === 0) {
    if (unreadable > 0 && reader.timesRefused === unreadable)
      throw new FileError('no-time-column', `No line has a time where one should be. ${sentences}`, more);
    if (unreadable > 0) throw new FileError('unreadable-lines', `No line could be read. ${sentences}`, more);
    const [leftOut] = findings.leftOut;
    if (leftOut)
      throw new FileError(
        'unreadable-lines',
        `No record is left: ${leftOut.reason}, on line ${leftOut.line} and others.`,
      );
    throw new FileError('empty-file', 'The file has a header and no records under it.');
  }
  if (unreadable > MOST_UNREADABLE * lines && !isAsked)
    throw new FileError(
      'unreadable-lines',
      `${unreadable} of ${lines} lines cannot be read. ${sentences} Mend the reading or the file, or leave such lines out.`,
      more,
    );
}
