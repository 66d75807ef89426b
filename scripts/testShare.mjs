import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';

/* Says how much of the code is tests, by lines that are not blank. The aim is a quarter to a third. */

const files = execFileSync('git', ['ls-files', '--cached', '--others', '--exclude-standard'], { encoding: 'utf8' })
  .split('\n')
  .filter((file) => /\.(ts|svelte|js|mjs|css)$/.test(file) && existsSync(file));
const isTest = (file) => /(\.test\.|(^|\/)(test|e2e)\/)/.test(file);
const linesOf = (file) =>
  readFileSync(file, 'utf8')
    .split('\n')
    .filter((line) => line.trim()).length;
const sum = (some) => some.reduce((total, file) => total + linesOf(file), 0);
const tests = sum(files.filter(isTest));
const code = sum(files.filter((file) => !isTest(file)));
console.log(
  `tests are ${((100 * tests) / (tests + code)).toFixed(0)} % of the code by lines (${tests} of ${tests + code}); the aim is 25 to 33 %`,
);
