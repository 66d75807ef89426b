import type { Access } from '$lib/api/tokens';

/** What somebody may, in words. */
export const ACCESS_SAYS: Record<Access, string> = {
  read: 'reads',
  write: 'reads and writes',
  keep: 'keeps the book',
};

export const dayOf = (text: string | null): string => text?.slice(0, 10) ?? 'never';
