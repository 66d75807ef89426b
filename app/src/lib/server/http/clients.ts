import type { RequestEvent } from '@sveltejs/kit';

/** The address of a client; that of the connection where the header of a proxy is missing, as in a probe past the proxy. */
export function addressOf({ getClientAddress, platform }: Pick<RequestEvent, 'getClientAddress' | 'platform'>): string {
  try {
    return getClientAddress();
  } catch {
    return platform?.req?.socket.remoteAddress ?? 'unknown'; // ADDRESS_HEADER is set, and the request has none
  }
}

/** Who asks: a page says so by a header, others are told apart by their token and their address. */
export function clientOf(event: RequestEvent): string {
  const { request, locals } = event;
  const page = request.headers.get('x-client')?.slice(0, 40) ?? '';
  // an address may be what a proxy says
  return `${locals.who} ${addressOf(event).slice(0, 100)} ${page}`;
}

/**
 * A signal that says when a client has gone. The framework's own one is heard only while a body comes.
 * @returns it, and what lets go of the connection once the answer is made
 */
export function leavingOf(event: RequestEvent): { signal: AbortSignal; release: () => void } {
  const socket = event.platform?.req?.socket;
  if (!socket) return { signal: event.request.signal, release: () => undefined };
  const gone = new AbortController();
  const leave = () => gone.abort();
  socket.once('close', leave);
  return {
    signal: AbortSignal.any([gone.signal, event.request.signal]),
    release: () => socket.off('close', leave),
  };
}

/** Whether a request came over TLS, to us or to the proxy before us. */
export const isSecure = ({ request, url }: Pick<RequestEvent, 'request' | 'url'>): boolean =>
  url.protocol === 'https:' || request.headers.get('x-forwarded-proto') === 'https';
