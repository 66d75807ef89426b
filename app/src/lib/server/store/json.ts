/** A value for a column of JSON; null stays null. */
export const toJson = <Value>(value: Value): Value extends null ? string | null : string =>
  (value === null ? null : JSON.stringify(value)) as Value extends null ? string | null : string;

/** What stands in a column of JSON. Some databases give it back as text, others as what it says. */
export const fromJson = <Value>(found: unknown): Value =>
  (typeof found === 'string' ? JSON.parse(found) : found) as Value;
