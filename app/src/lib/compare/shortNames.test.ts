import { describe, expect, it } from 'vitest';
import { shortNames } from './shortNames';

describe('short names', () => {
  it.each([
    ['short ones stay', ['KELP', 'SALT'], ['KELP', 'SALT']],
    ['what all begin with is left out', ['landings_north', 'landings_south'], ['north', 'south']],
    ['and what all end with', ['north of landings', 'east of landings'], ['north', 'east']],
    ['a part of a word is not', ['temperature', 'temperate'], ['tem…re', 'tem…te']],
    ['a middle that tells them apart stays', ['air_at_one_dusk', 'air_at_two_dusk'], ['one', 'two']],
    ['one that only the middle does', ['abcd1wxyz', 'abcd2wxyz'], ['abcd1wxyz', 'abcd2wxyz']],
    ['one alone loses its middle', ['harbour_temperature'], ['har…re']],
    ['one that is the beginning of another', ['tide_gauge', 'tide_gauge_two'], ['gauge', 'gau…wo']],
  ])('%s', (_, names, short) => expect(shortNames(names, 6)).toEqual(short));
});
