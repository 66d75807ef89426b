/** A browser's own storage, or nothing where there is none. */
export type KeptStorage = Pick<Storage, 'getItem' | 'setItem' | 'removeItem'>;

/** Keeps a text. @returns whether there was room for it */
export function keepText(storage: KeptStorage | undefined, key: string, text: string): boolean {
  try {
    storage?.setItem(key, text);
    return true;
  } catch (error) {
    if (error instanceof DOMException) return false;
    throw error;
  }
}

/** What a text says in JSON; undefined where it is none. */
export function parsedJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch (error) {
    if (error instanceof SyntaxError) return undefined;
    throw error;
  }
}
