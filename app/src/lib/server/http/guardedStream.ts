/**
 * A stream that ends when its reader may no longer have it.
 * @param watch  calls back once when access has ended; returns what stops watching
 * @param last   sent before the stream ends for that reason
 */
export function guardedStream(
  body: ReadableStream<Uint8Array>,
  watch: (end: () => void) => () => void,
  last: Uint8Array,
): ReadableStream<Uint8Array> {
  const reader = body.getReader();
  let unwatch = () => {};
  let isOver = false;
  const source: UnderlyingDefaultSource<Uint8Array> = {
    start(stream) {
      unwatch = watch(() => {
        if (isOver) return;
        isOver = true;
        stream.enqueue(last);
        stream.close();
        void reader.cancel('access ended').catch(() => undefined); // its source may have failed already
      });
    },
    async pull(stream) {
      const { value, done } = await reader.read().catch((error: unknown) => {
        unwatch();
        throw error;
      });
      if (isOver) return;
      if (!done) return stream.enqueue(value);
      isOver = true;
      unwatch();
      stream.close();
    },
    cancel(reason) {
      isOver = true;
      unwatch();
      return reader.cancel(reason);
    },
  };
  return new ReadableStream(source, { highWaterMark: 0 });
}
