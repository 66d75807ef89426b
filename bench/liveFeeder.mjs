import { request } from 'node:http';

/** A feed over HTTP, which says of each answer how many records are safe. */
export function openFeed(origin, tape, sender, safe) {
  const feed = request(`${origin}/api/tapes/${tape}/feed?sender=${sender}`, {
    method: 'POST',
    headers: { 'content-type': 'application/x-ndjson', 'transfer-encoding': 'chunked' },
  });
  const ended = new Promise((resolve, reject) => {
    feed.on('error', reject);
    feed.on('response', (answer) => {
      let rest = '';
      answer.setEncoding('utf8');
      answer.on('data', (part) => {
        const lines = (rest + part).split('\n');
        rest = lines.pop();
        for (const line of lines) {
          const told = JSON.parse(line);
          if (told.problem) reject(new Error(told.problem.detail));
          if (told.safe !== undefined) safe(told);
        }
      });
      answer.on('end', resolve);
    });
  });
  feed.flushHeaders();
  return {
    /** Waits where the connection is full: the server slows the sender down. */
    send: (text) => (feed.write(text) ? undefined : new Promise((resolve) => feed.once('drain', resolve))),
    end: () => {
      feed.end();
      return ended;
    },
  };
}

/** A tape with one record, to be fed. */
export async function newTape(origin, name, at) {
  const body = `time,price,size\n${new Date(at).toISOString()},100.25,1\n`;
  const answer = await fetch(`${origin}/api/tapes?name=${name}&kind=ticks&zone=UTC`, { method: 'POST', body });
  if (!answer.ok) throw new Error(await answer.text());
}

/** Records of made-up trades as lines, so many a second of their own time. */
export function* recordLines(from, perSecond) {
  let price = 10_000;
  let state = 1;
  for (let seq = 0; ; seq++) {
    state = (state * 48271) % 2147483647;
    price += (state % 3) - 1;
    yield `{"seq":${seq},"time":${from * 1000 + Math.round((seq * 1e6) / perSecond)},"price":${price / 100},"size":${1 + (state % 50)}}\n`;
  }
}
