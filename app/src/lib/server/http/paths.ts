/** The path of one of our own pages to go to; `/` for an address elsewhere, or for one that is none. */
export function pathOf(to: string | null, origin = 'http://localhost'): string {
  if (to === null || !URL.canParse(to, origin)) return '/';
  const url = new URL(to, origin);
  // a browser drops tabs and line ends and takes backslashes for slashes: only the parsed address says where it leads
  return url.origin === new URL(origin).origin ? url.pathname + url.search + url.hash : '/';
}
