import { Tokenizer, TokenType } from '@streamparser/json';

/** A JSON Pointer (RFC 6901) as the names on the way, and back. */
export const namesOfPointer = (pointer: string): string[] =>
  pointer
    .split('/')
    .slice(1)
    .map((name) => name.replaceAll('~1', '/').replaceAll('~0', '~'));
export const pointerOf = (names: readonly string[]): string =>
  names.map((name) => `/${name.replaceAll('~', '~0').replaceAll('/', '~1')}`).join('');

/** An object or array that is open at a place in the text. */
interface Container {
  isObject: boolean;
  /** Whether the names that lead to it are those of the way, as far as it goes. */
  isOnWay: boolean;
  /** Whether a text that comes is the name of a value, and the name that came last. */
  expectsName: boolean;
  name: string;
}

const NOTHING = new Uint8Array(0);

/** Finds the values directly within one object or array of a JSON text, as they stand, however the text comes in pieces. */
export class JsonItems {
  /** Whether the outermost value has ended. */
  isOver = false;
  private readonly tokenizer = new Tokenizer();
  private readonly way: readonly string[];
  private readonly open: Container[] = [];
  private failure: Error | undefined;
  /** Bytes before the current piece, and the piece. */
  private before = 0;
  private piece: Uint8Array = NOTHING;
  /** The value that has begun: where, under which name, and its bytes from earlier pieces. */
  private start = -1;
  private name = '';
  private parts: Uint8Array[] = [];

  /**
   * @param pointer  to what holds the values
   * @param found    told of each value: its name in an object, and its text
   */
  constructor(
    pointer: string,
    private readonly found: (name: string, text: string) => void,
  ) {
    this.way = namesOfPointer(pointer);
    this.tokenizer.onToken = ({ token, value, offset }) => this.take(token, value, offset);
    this.tokenizer.onError = (error) => (this.failure ??= error);
    this.tokenizer.onEnd = () => undefined;
  }

  /** Reads on; no memory of the piece is held on to. @throws what the tokenizer finds wrong */
  push(piece: Uint8Array): void {
    this.piece = piece;
    this.tokenizer.write(piece);
    if (this.failure) throw this.failure;
    if (this.start >= 0) this.parts.push(piece.slice(Math.max(0, this.start - this.before)));
    this.before += piece.length;
    this.piece = NOTHING;
  }

  /** The value that has begun and not ended. */
  get pending(): { name: string; bytes: Uint8Array } | undefined {
    return this.start < 0 ? undefined : { name: this.name, bytes: concatenated(this.parts) };
  }

  get pendingBytes(): number {
    return this.parts.reduce((sum, part) => sum + part.length, 0);
  }

  private take(token: TokenType, value: unknown, offset: number): void {
    const top = this.open.at(-1);
    switch (token) {
      case TokenType.LEFT_BRACE:
      case TokenType.LEFT_BRACKET: {
        const depth = this.open.length;
        const isOnWay = depth === 0 || (top!.isOnWay && depth <= this.way.length && top!.name === this.way[depth - 1]);
        if (this.holds(top)) this.begin(offset, top!.name);
        const isObject = token === TokenType.LEFT_BRACE;
        this.open.push({ isObject, isOnWay, expectsName: isObject, name: '' });
        return;
      }
      case TokenType.RIGHT_BRACE:
      case TokenType.RIGHT_BRACKET:
        if (this.holds(top)) this.end(offset);
        this.open.pop();
        this.isOver = this.open.length === 0;
        return;
      case TokenType.COMMA:
        if (this.holds(top)) this.end(offset);
        if (top?.isObject) top.expectsName = true;
        return;
      case TokenType.COLON:
        return;
      default:
        if (top?.expectsName) {
          top.expectsName = false;
          top.name = String(value);
        } else if (this.holds(top)) this.found(top!.name, JSON.stringify(value));
    }
  }

  /** Whether a container is the one that holds the values. */
  private holds(container: Container | undefined): boolean {
    return container !== undefined && container.isOnWay && this.open.length === this.way.length + 1;
  }

  private begin(offset: number, name: string): void {
    this.start = offset;
    this.name = name;
  }

  private end(offset: number): void {
    if (this.start < 0) return;
    const last = this.piece.subarray(Math.max(0, this.start - this.before), offset - this.before);
    const text = new TextDecoder().decode(this.parts.length > 0 ? concatenated([...this.parts, last]) : last);
    this.start = -1;
    this.parts = [];
    this.found(this.name, text.trimEnd());
  }
}

function concatenated(parts: readonly Uint8Array[]): Uint8Array {
  const whole = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    whole.set(part, at);
    at += part.length;
  }
  return whole;
}
