import { examine, figureText, parseTreatment, seriesFigures, treated, treatmentText } from '@jaunty-ledger/core';
import { putText } from '../output';
import type { Progress } from '../progress';
import { oneColumn, type BarOptions } from './columnsOfFile';

interface ExamineOptions extends BarOptions {
  bars: string;
  entry: string[];
  treat?: string[];
  lags: number;
  season?: number;
  out?: string;
}

const figure = (value: number): string => figureText(value, 'number', 0, { missing: 'none' });

/** What one column is like. */
export async function examineFile(
  file: string,
  options: ExamineOptions,
  asJson: boolean,
  progress: Progress,
): Promise<void> {
  const { tape, values, phrase, unit } = await oneColumn(file, options.bars, options.entry, options, progress);
  const treatments = (options.treat ?? []).map(parseTreatment);
  const { summary, memory, verdicts } = examine(values, {
    ...{ treatments, lags: options.lags, season: options.season },
    isOfChanges: unit === 'fraction' || unit === 'move',
  });
  const { histogram: _, ...figures } = summary;
  const told = {
    tape: tape.name,
    bars: options.bars,
    phrase,
    treatments: treatments.map(treatmentText),
    rows: values.length,
  };
  if (asJson) {
    const past = memory && {
      acf: Array.from(memory.values.acf),
      pacf: Array.from(memory.values.pacf),
      band: memory.values.band,
    };
    return putText(
      `${JSON.stringify({ ...told, summary: figures, memory: past, verdicts }, undefined, 2)}\n`,
      options.out,
    );
  }
  const { level, distance } = seriesFigures(Array.from(treated(values, treatments)));
  const lines = [
    `${told.tape}, ${phrase} on ${options.bars}${told.treatments.length > 0 ? `, ${told.treatments.join(', ')}` : ''}: ${figures.count} values, ${figures.missing} missing`,
    `  mean ${level(figures.mean)}, standard deviation ${distance(figures.stdev)}, min ${level(figures.min)}, max ${level(figures.max)}`,
    `  quartiles ${figures.quartiles.map(level).join(', ')}; skewness ${figure(figures.skewness)}, kurtosis ${figure(figures.kurtosis)}`,
    ...verdicts.flatMap(({ asks, says, figures: line }) => ['', asks, `  ${says}`, `  ${line}`]),
  ];
  return putText(`${lines.join('\n')}\n`, options.out);
}
