import { connect, createServer, type Socket } from 'node:net';

/** Stands between a server and its database: passes everything on, cuts connections, or lets nothing through. */
export class Between {
  private readonly pairs = new Set<[Socket, Socket]>();
  private isDeaf = false;
  private constructor(
    private readonly host: string,
    private readonly port: number,
    private readonly close: () => void,
  ) {}

  /**
   * @param to    the port that it passes on to
   * @param host  where it listens
   */
  static start(to: number, host = '127.0.0.1'): Promise<Between> {
    return new Promise((resolve) => {
      const server = createServer((near) => between.join(near, connect(to, '127.0.0.1')));
      let between: Between;
      server.listen(0, host, () => {
        const address = server.address();
        between = new Between(host, typeof address === 'object' && address ? address.port : 0, () => server.close());
        resolve(between);
      });
    });
  }

  /** An address of the database by way of this. */
  addressOf(address: string): string {
    const url = new URL(address);
    url.hostname = this.host;
    url.port = String(this.port);
    return url.href;
  }

  private join(near: Socket, far: Socket): void {
    const pair: [Socket, Socket] = [near, far];
    this.pairs.add(pair);
    for (const [one, other] of [pair, [far, near] as const]) {
      one.on('data', (data) => {
        if (!this.isDeaf) other.write(data);
        else this.lost.push([other, data]);
      });
      one.on('error', () => other.destroy());
      one.on('close', () => {
        other.destroy();
        this.pairs.delete(pair);
      });
    }
  }

  /** What was sent while nothing came through: it arrives late, as on a network that was cut for a while. */
  private lost: [Socket, Buffer][] = [];

  /** Cuts all connections that there are. */
  cut(): void {
    for (const [near, far] of this.pairs) {
      near.destroy();
      far.destroy();
    }
  }

  /** Ends all connections on the database's side alone: the server's side stays open, and nothing ever comes through it. */
  cutSilently(): void {
    for (const [near, far] of this.pairs) {
      far.removeAllListeners('close').destroy();
      near.removeAllListeners('data').resume();
    }
    this.pairs.clear();
    this.lost = [];
  }

  /** Lets nothing through, and says so to nobody. */
  deafen(): void {
    this.isDeaf = true;
  }

  hear(): void {
    this.isDeaf = false;
    for (const [to, data] of this.lost) if (!to.destroyed) to.write(data);
    this.lost = [];
  }

  end(): void {
    this.cut();
    this.close();
  }
}
