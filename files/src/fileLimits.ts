/** Bounds of what a file may hold. */
export interface FileLimits {
  /** Megabytes of a file, unpacked. */
  uploadMegabytes: number;
  /** Times its size that a packed file may grow to. */
  growth: number;
  columns: number;
  /** Different words of a text column. */
  words: number;
}
