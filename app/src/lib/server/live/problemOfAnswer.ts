import { STATUS_CODES, type IncomingMessage } from 'node:http';
import type { Duplex } from 'node:stream';

/** Answers a request for a WebSocket as the feed was answered, which is not to be. */
export async function problemOfAnswer(answer: IncomingMessage, socket: Duplex): Promise<void> {
  const parts: Buffer[] = [];
  for await (const part of answer) parts.push(part as Buffer);
  const body = Buffer.concat(parts);
  const status = answer.statusCode ?? 500;
  socket.end(
    `HTTP/1.1 ${status} ${STATUS_CODES[status]}\r\ncontent-type: ${answer.headers['content-type']}\r\n` +
      `content-length: ${body.length}\r\nconnection: close\r\n\r\n${body.toString()}`,
  );
}
