import { request as askHttp, type IncomingMessage } from 'node:http';
import type { Duplex } from 'node:stream';
import { WebSocketServer, type WebSocket } from 'ws';
import { problemOfAnswer } from './problemOfAnswer';

/** The address of a feed. */
const FEED = /^\/api\/tapes\/[\w.~%-]+\/feed$/;
/** What an address may be written in. */
const PRINTED = /^[!-~]*$/;
/** Bytes that wait to be sent on before the sender is made to wait. */
const MOST_WAITING = 1 << 20;
const MOST_MESSAGE = 1 << 20;
/** Bytes of answers that nobody reads, before the sender is let go. */
const MOST_UNREAD = 4 << 20;

/**
 * Feeds over a WebSocket (RFC 6455). It is the same feed: messages are lines of its body, and the lines of its answer are
 * messages. So whatever holds for the one, tokens and limits included, holds for the other.
 * @param port  this server's own
 */
export function feedSockets(port: () => number, host: string) {
  const sockets = new WebSocketServer({ noServer: true, maxPayload: MOST_MESSAGE });
  return (request: IncomingMessage, socket: Duplex, head: Buffer): void => {
    // without anybody who listens an error of the connection would end the server
    socket.on('error', () => socket.destroy());
    const [pathname] = (request.url ?? '').split('?');
    if (!FEED.test(pathname) || !PRINTED.test(request.url!)) {
      socket.end('HTTP/1.1 404 Not Found\r\nconnection: close\r\n\r\n');
      return;
    }
    const { authorization, cookie, origin, host: asked, 'sec-fetch-site': site } = request.headers;
    const feed = askHttp({
      ...{ host, port: port(), path: request.url, method: 'POST' },
      headers: {
        ...{ 'content-type': 'application/x-ndjson', 'transfer-encoding': 'chunked' },
        ...(authorization && { authorization }),
        ...(cookie && { cookie }),
        ...(origin && { origin }),
        ...(asked && { host: asked }),
        ...(site && { 'sec-fetch-site': site }),
      },
    });
    feed.flushHeaders();
    const leave = () => feed.destroy();
    socket.once('close', leave);
    feed.once('error', () => socket.destroy());
    feed.once('response', (answer) => {
      if (answer.statusCode !== 200) return void problemOfAnswer(answer, socket);
      sockets.handleUpgrade(request, socket, head, (web) => {
        // from now on whoever leaves ends the feed, so that all of what was sent is entered
        socket.off('close', leave);
        connect(web, feed, answer);
      });
    });
  };
}

function connect(web: WebSocket, feed: ReturnType<typeof askHttp>, answer: IncomingMessage): void {
  web.on('message', (data: Buffer) => {
    const text = data.toString();
    feed.write(text.endsWith('\n') ? text : `${text}\n`);
    if (feed.writableLength > MOST_WAITING) {
      web.pause();
      feed.once('drain', () => web.resume());
    }
  });
  web.on('close', () => feed.end());
  web.on('error', () => feed.end());
  let rest = '';
  answer.setEncoding('utf8');
  answer.on('data', (part: string) => {
    const lines = (rest + part).split('\n');
    rest = lines.pop()!;
    for (const line of lines) web.send(line);
    if (web.bufferedAmount > MOST_UNREAD) web.terminate();
  });
  answer.on('end', () => web.close(1000));
  answer.on('error', () => web.close(1011));
}
