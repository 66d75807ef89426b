import { workOut, type SharedOrder } from './otherThread';

/* A second thread of the page: orders come through a port from the first one. */

self.onmessage = ({ data: port }: MessageEvent<MessagePort>) => {
  port.onmessage = ({ data }: MessageEvent<SharedOrder>) => workOut(data);
};
