import { createServer, request } from 'node:http';

/* Hands each request to the next of some servers, as a reverse proxy before them does. */

/**
 * @param targets  origins of the servers; one that does not answer is passed over
 * @returns        the server that listens on the port
 */
export function roundRobin(targets, port) {
  let turn = 0;
  const next = () => new URL(targets[turn++ % targets.length]);
  const headersOf = ({ headers, socket }) => ({
    ...headers,
    'x-forwarded-for': socket.remoteAddress,
    'x-forwarded-host': headers.host,
  });
  const optionsOf = (asked, { hostname, port: to }) => ({
    ...{ hostname, port: to, method: asked.method, path: asked.url, agent: false },
    headers: headersOf(asked),
  });

  function hand(asked, answer, tries) {
    const onward = request(optionsOf(asked, next()), (found) => {
      answer.writeHead(found.statusCode, found.headers);
      found.pipe(answer);
      found.on('error', () => answer.destroy());
    });
    onward.on('error', (error) => {
      if (answer.headersSent) return answer.destroy();
      // nothing of the request has gone where no connection came about; one that only reads may be asked again
      const isHarmless = error.code === 'ECONNREFUSED' || ['GET', 'HEAD'].includes(asked.method);
      if (isHarmless && !answer.destroyed && tries > 1) return hand(asked, answer, tries - 1);
      answer.writeHead(502, { 'content-type': 'text/plain' });
      answer.end('No server answers at the moment. Try again.\n');
    });
    answer.on('close', () => onward.destroy());
    // not before there is a connection: another server could not be sent what has gone
    onward.on('socket', (socket) =>
      socket.once('connect', () => {
        onward.flushHeaders(); // a body may begin much later
        asked.pipe(onward);
      }),
    );
  }

  const server = createServer((asked, answer) => hand(asked, answer, targets.length));
  server.requestTimeout = 0;
  server.on('upgrade', (asked, socket, head) => {
    const onward = request(optionsOf(asked, next()));
    onward.on('upgrade', (found, far, farHead) => {
      const lines = Object.entries(found.headers).map(([name, value]) => `${name}: ${value}\r\n`);
      socket.write(`HTTP/1.1 101 Switching Protocols\r\n${lines.join('')}\r\n`);
      if (farHead.length > 0) socket.write(farHead);
      if (head.length > 0) far.write(head);
      far.pipe(socket).pipe(far);
      far.on('error', () => socket.destroy());
      socket.on('error', () => far.destroy());
    });
    onward.on('response', (found) => {
      socket.end(`HTTP/1.1 ${found.statusCode} ${found.statusMessage}\r\nconnection: close\r\n\r\n`);
    });
    onward.on('error', () => socket.destroy());
    socket.on('error', () => onward.destroy());
    onward.end();
  });
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', () => resolve(server));
  });
}
