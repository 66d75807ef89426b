/** The sign for a zero byte. */
const ZERO_SIGN = '\u2400';

/** A value to store; in texts, such as lines of a damaged file, the sign for a zero byte replaces each: databases store none. */
export const withoutZeroBytes = (value: unknown): unknown =>
  typeof value === 'string' && value.includes('\0') ? value.replaceAll('\0', ZERO_SIGN) : value;
