/** What can be wrong with a file as a whole. */
export type FileErrorCode =
  | 'invalid-query'
  | 'empty-file'
  | 'no-time-column'
  | 'no-price-column'
  | 'unreadable-lines'
  | 'broken-body'
  | 'too-large'
  | 'too-many-columns'
  | 'too-many-words'
  | 'date-order-open'
  | 'decimal-open';

interface FileErrorOptions extends ErrorOptions {
  line?: number;
  rejected?: readonly { line: number; reason: string }[];
  rejectedCount?: number;
}

/** A file that cannot be read, or not as it is chosen to be. The message says where, and what would be right. */
export class FileError extends Error {
  override readonly name = 'FileError';
  /** The line or record at fault, from 1, where there is one. */
  readonly line: number | undefined;
  /** Lines that could not be read, the first of them, and how many there are. */
  readonly rejected: readonly { line: number; reason: string }[] | undefined;
  readonly rejectedCount: number | undefined;

  constructor(
    readonly code: FileErrorCode,
    message: string,
    { line, rejected, rejectedCount, ...options }: FileErrorOptions = {},
  ) {
    super(message, options);
    this.line = line ?? rejected?.[0]?.line;
    this.rejected = rejected;
    this.rejectedCount = rejectedCount;
  }
}
