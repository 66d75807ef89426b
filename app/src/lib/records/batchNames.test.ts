import { describe, expect, it } from 'vitest';
import { proposedJoining, stemOf, tapeNames } from './batchNames';

describe('the stem of a file', () => {
  it.each([
    ['kelp_2026-01.csv', 'kelp'],
    ['kelp-20260105.csv.gz', 'kelp'],
    ['Salt 2025 Q3.xlsx', 'Salt'],
    ['salt_jan_2026.csv', 'salt'],
    ['wool (2).csv', 'wool'],
    ['wool_part03.txt', 'wool'],
    ['lamp oil.csv', 'lamp oil'],
    ['05-01-2026 amber.csv', 'amber'],
    ['2026.csv', ''],
    ['T1000.csv', 'T1000'],
  ])('%s is %s', (name, stem) => expect(stemOf(name)).toBe(stem));
});

describe('several files', () => {
  const months = [
    { name: 'kelp_2026-02.csv', from: '2026-02-02', to: '2026-02-27' },
    { name: 'kelp_2026-01.csv', from: '2026-01-02', to: '2026-01-30' },
    { name: 'salt_2026-01.csv', from: '2026-01-02', to: '2026-01-30' },
  ];

  it('whose dates follow on each other are joined under what their names share', () => {
    expect(proposedJoining(months)).toBe('join');
    expect(tapeNames(months, 'join', ['salt'])).toEqual(['KELP', 'KELP', 'SALT_2']);
  });

  it('that run beside each other make a tape each', () => {
    const beside = months.map(({ name }) => ({ name, from: '2026-01-02', to: '2026-02-27' }));
    expect(proposedJoining(beside)).toBe('apart');
    expect(tapeNames(beside, 'apart', ['kelp_2026_01'])).toEqual(['KELP_2026_02', 'KELP_2026_01_2', 'SALT_2026_01']);
  });

  it('of different names make a tape each', () =>
    expect(proposedJoining([{ name: 'kelp.csv' }, { name: 'salt.csv' }])).toBe('apart'));
});
