import { rfc3339 } from '@jaunty-ledger/core';
import { CHECKS } from '@jaunty-ledger/files/checks/checks';
import { EXIT } from '../errors';
import { sourceOf, type ReadingOptions } from '../options';
import { putText } from '../output';
import type { Progress } from '../progress';
import { checkFile, type ReadTape } from '../readFile';

/** Tells how a file is read and what is found in it. */
export async function check(file: string, options: ReadingOptions, asJson: boolean, progress: Progress): Promise<void> {
  const tapes = await checkFile(sourceOf(file, options), progress);
  const reports = tapes.map(reportOf);
  await putText(
    asJson ? `${JSON.stringify({ file, tapes: reports }, undefined, 2)}\n` : reports.map(textOf).join('\n'),
  );
  const isTouched = reports.some(({ findings }) =>
    findings.some(({ treatment, count }) => count > 0 && (treatment === 'flag' || treatment === 'leave-out')),
  );
  if (isTouched) process.exitCode = EXIT.found;
}

function reportOf({ name, reading, lines, found, findings }: ReadTape) {
  return {
    tape: name,
    kind: reading.kind,
    format: reading.format,
    columns: reading.columns.map(({ role, name: own }) => (own ? `${role}=${own}` : role)),
    lines,
    records: found.rows,
    ...(found.interval !== null && { interval: found.interval }),
    from: rfc3339(found.firstAt),
    to: rfc3339(found.lastAt),
    leftOut: findings.leftOutCount,
    flagged: found.flagged,
    findings: findings.list(),
  };
}

function textOf(report: ReturnType<typeof reportOf>): string {
  const { tape, kind, format, columns, lines, records, interval, from, to, findings } = report;
  const head = [
    `${tape}: ${records.toLocaleString('en')} records of ${lines.toLocaleString('en')} lines, ${from} to ${to}`,
    `  read as ${kind}${interval ? ` of ${interval}` : ''} from ${format}: ${columns.join(', ')}`,
  ];
  const found = findings.flatMap(({ id, count, treatment, examples }) => [
    `  ${count.toLocaleString('en')} ${CHECKS.find((one) => one.id === id)!.says} (${treatment === 'leave-out' ? 'left out' : treatment === 'flag' ? 'flagged' : 'kept'})`,
    ...examples.slice(0, 3).map(({ line, says }) => `    line ${line}: ${says}`),
  ]);
  return `${[...head, ...(found.length > 0 ? found : ['  the checks find nothing'])].join('\n')}\n`;
}
