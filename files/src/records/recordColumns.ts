/** Columns of records by name; `time` is always among them. */
export type RecordColumns = { time: Float64Array } & Record<string, Float64Array>;
