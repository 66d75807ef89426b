/** Items that wait for their turn: those of each client in their order, the clients in turn. */
export class FairQueue<Item> {
  /** The client whose turn it is comes first. */
  private readonly byClient = new Map<string, Item[]>();
  private count = 0;

  get size(): number {
    return this.count;
  }

  push(client: string, item: Item): void {
    const waiting = this.byClient.get(client);
    if (waiting) waiting.push(item);
    else this.byClient.set(client, [item]);
    this.count++;
  }

  /** The next item; its client goes behind all others. */
  shift(): Item | undefined {
    for (const [client, waiting] of this.byClient) {
      const item = waiting.shift()!;
      this.byClient.delete(client);
      if (waiting.length > 0) this.byClient.set(client, waiting);
      this.count--;
      return item;
    }
    return undefined;
  }

  /** Whether the item still waited; it does not any more. */
  remove(client: string, item: Item): boolean {
    const waiting = this.byClient.get(client) ?? [];
    const at = waiting.indexOf(item);
    if (at < 0) return false;
    waiting.splice(at, 1);
    if (waiting.length === 0) this.byClient.delete(client);
    this.count--;
    return true;
  }
}
