import type { Block } from '$lib/api/handovers';
import { INK_COUNT } from '$lib/chart/inks';
import { chartOf } from '$lib/handover/blocks';
import type { Sources } from '$lib/handover/issue';
import type { Compared } from './compareAddress';

/** A member's column as the bars of the first tape call it; nothing of a formula on another tape, which cannot be called so. */
function columnOf({ tape, entry }: Compared['members'][number], first: string): string | undefined {
  if (tape === first) return entry;
  return /^[A-Za-z_]\w*$/.test(entry) ? `${tape}.${entry}` : undefined;
}

const MOST_LINES = 12;

/** The lines of a comparison as a chart that follows its tapes, on the rows of the first of them. */
export function chartOfMembers(title: string, compared: Compared, sources: Sources): Promise<Block> {
  const { members, bars, from, to, scale, strong } = compared;
  const [{ tape }] = members;
  const lines = members.flatMap((member, at) => {
    const column = columnOf(member, tape);
    return column === undefined ? [] : [{ at, column, name: `line_${at}`, label: `${member.tape} ${member.entry}` }];
  });
  const shown = lines.slice(0, MOST_LINES);
  const entries = shown.map(({ name, column }) => `${name} = ${column}`);
  const rest = members.length - shown.length;
  return chartOf(
    rest > 0 ? `${title}; ${rest} more are not drawn` : title,
    { tape, bars, flagged: true, alone: null, entries, from, to },
    [
      {
        lines: shown.map(({ at, name, label }) => ({
          ...{ column: name, label, as: strong === at ? ('strong' as const) : ('plain' as const), ink: at % INK_COUNT },
        })),
        scale: scale === 'raw' ? 'fit' : 'rebased',
        unit: '',
        prefix: '',
      },
    ],
    sources,
  );
}
