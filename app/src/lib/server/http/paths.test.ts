import { expect, it } from 'vitest';
import { pathOf } from './paths';

it.each(['/', '/ledger?tape=KELP', '/read/4#second', '/%09/host'])('goes to %s after sign-in', (to) =>
  expect(pathOf(to)).toBe(to),
);

it.each([
  null,
  '//host',
  '/\\host',
  '/\t/host',
  '/\n/host',
  '\\\\host',
  'https://host/',
  'javascript:alert(1)',
  'http://%',
  ' //host',
])('goes to the first page, not to %j', (to) => expect(pathOf(to)).toBe('/'));

it('has no line end in a path that goes into a header', () =>
  expect(pathOf('/a\r\nset-cookie: b')).toBe('/aset-cookie:%20b'));
