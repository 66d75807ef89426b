/** Header words that mean a role, in lower case without marks between. */
const WORDS = {
  time: [
    'time',
    'timestamp',
    'datetime',
    'dateandtime',
    'instant',
    'ts',
    'tradetime',
    'start',
    'opentime',
    'zeit',
    'tidspunkt',
  ],
  date: ['date', 'day', 'tradingday', 'tradedate', 'month', 'quarter', 'year', 'period', 'datum', 'dato'],
  clock: ['clock', 'timeofday', 'uhrzeit'],
  price: ['price', 'last', 'px', 'tradeprice', 'preis', 'pris'],
  size: ['size', 'quantity', 'qty', 'amount', 'units', 'shares', 'lots', 'menge'],
  side: ['side', 'direction', 'aggressor'],
  bid: ['bid', 'bidprice'],
  ask: ['ask', 'askprice', 'offer'],
  bidSize: ['bidsize', 'bidqty', 'bidvolume'],
  askSize: ['asksize', 'askqty', 'askvolume'],
  open: ['open', 'first'],
  high: ['high', 'max'],
  low: ['low', 'min'],
  close: ['close', 'settle', 'schluss'],
  volume: ['volume', 'vol', 'turnoverunits'],
  value: ['value', 'turnover'],
  trades: ['trades', 'count', 'ticks', 'numberoftrades'],
  instrument: ['instrument', 'symbol', 'ticker', 'name', 'isin', 'security', 'code'],
} as const satisfies Record<string, readonly string[]>;

const ROLE_OF_WORD: ReadonlyMap<string, string> = new Map(
  Object.entries(WORDS).flatMap(([role, words]) => words.map((word) => [word, role] as const)),
);

/** The role that a header word means. */
export function roleOfWord(word: string): string | undefined {
  return ROLE_OF_WORD.get(word.toLowerCase().replaceAll(/[^a-z]/g, ''));
}
