/** What is told of a request by its headers and its first line. */
export interface RequestHead {
  method: string;
  path: string;
  header: (name: string) => string | null;
}

const OWN_NAMES: readonly string[] = ['127.0.0.1', 'localhost', '[::1]'];

/** Why a request is refused that names this server otherwise than it is called; a name may have been bent to its address. */
export function wrongHost({ header }: RequestHead): string | undefined {
  const name = (header('host') ?? '').replace(/:\d+$/, '');
  return OWN_NAMES.includes(name)
    ? undefined
    : `This server answers to 127.0.0.1 and localhost, not to ${name.slice(0, 100)}.`;
}

/**
 * Why a request is refused that a page of another site makes. Such a page may send whoever reads it here by a link, and
 * nothing else: not to load a picture from us either, since to make it may be work.
 */
export function foreignPage({ method, path, header }: RequestHead): string | undefined {
  const refusal = 'Requests from pages of other sites are refused.';
  const origin = header('origin');
  const host = header('host') ?? '';
  if (origin !== null && origin !== `http://${host}` && origin !== `https://${host}`) return refusal;
  const site = header('sec-fetch-site');
  if (site === null || site === 'same-origin' || site === 'none') return undefined;
  const isLink = method === 'GET' && header('sec-fetch-mode') === 'navigate' && header('sec-fetch-dest') === 'document';
  return isLink && !path.startsWith('/api/') ? undefined : refusal;
}
