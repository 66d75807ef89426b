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
  | 'date-order-open';

/** A file that cannot be read, or not as it is chosen to be. The message says where, and what would be right. */
export class FileError extends Error {
  override readonly name = 'FileError';
  /** The line or record at fault, from 1, where there is one. */
  readonly line: number | undefined;

  constructor(
    readonly code: FileErrorCode,
    message: string,
    { line, ...options }: ErrorOptions & { line?: number } = {},
  ) {
    super(message, options);
    this.line = line;
  }
}
