/** The colours of a paper, as the chart needs them; read from the page's style, which is their one source. */
export interface Inks {
  ink: string;
  quiet: string;
  rule: string;
  faintRule: string;
  /** Of a price that is drawn as a line, and of bars that have no room of their own. */
  price: string;
  narrow: string;
  rising: string;
  falling: string;
  paper: string;
  volume: string;
  flag: string;
  entries: string[];
}

export const INK_COUNT = 8;

/** Line patterns, one an ink, so that a line is known without its colour; each entry may have another. */
export const DASHES: readonly number[][] = [
  [],
  [10, 4],
  [16, 3],
  [10, 3, 2, 3],
  [5, 3],
  [14, 3, 2, 3, 2, 3],
  [2, 3],
  [6, 2, 2, 2],
];
export const DASH_NAMES = [
  'solid',
  'dashes',
  'long dashes',
  'dash and dot',
  'short dashes',
  'dash and two dots',
  'dots',
  'dash and points',
] as const;
export const INK_NAMES = ['blue', 'ochre', 'green', 'violet', 'brick', 'teal', 'plum', 'slate'] as const;

/** The pattern of an entry's line: its own, else that of its ink. */
export const dashOf = ({ ink, dash }: { ink: number; dash: number | null }): readonly number[] => DASHES[dash ?? ink];

export function readInks(element: Element): Inks {
  const style = getComputedStyle(element);
  const read = (name: string) => style.getPropertyValue(name).trim();
  return {
    ink: read('--ink'),
    quiet: read('--quiet'),
    rule: read('--rule'),
    faintRule: read('--rule-faint'),
    price: read('--price'),
    narrow: read('--narrow'),
    rising: read('--rising'),
    falling: read('--falling'),
    paper: read('--paper'),
    volume: read('--volume'),
    flag: read('--wrong'),
    entries: Array.from({ length: INK_COUNT }, (_, i) => read(`--ink-${i}`)),
  };
}

/** How strong the line of a fan's member is: from light to full. */
export const memberStrength = (index: number, members: number): number =>
  members === 1 ? 1 : 0.4 + (0.6 * index) / (members - 1);
