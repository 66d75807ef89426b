/** What a record holds under a name; columns may be called `constructor` or `toString`, which every object has. */
export const own = <T>(record: Readonly<Record<string, T>>, name: string): T | undefined =>
  Object.hasOwn(record, name) ? record[name] : undefined;
