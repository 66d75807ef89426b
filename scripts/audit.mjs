import { spawnSync } from 'node:child_process';

/* Fails if a package that ships has a known vulnerability. Where the registry does not answer, the check is skipped and says so. */

const { stdout } = spawnSync('npm', ['audit', '--omit=dev', '--json'], { encoding: 'utf8' });
let report;
try {
  report = JSON.parse(stdout);
} catch {
  report = {}; // no report: the registry did not answer
}
if (report.vulnerabilities === undefined) console.warn('npm audit: the registry did not answer; the check is skipped.');
const serious = Object.values(report.vulnerabilities ?? {}).filter(({ severity }) =>
  ['high', 'critical'].includes(severity),
);
for (const { name, severity, range } of serious) console.error(`npm audit: ${name} ${range}, ${severity}`);
process.exitCode = serious.length > 0 ? 1 : 0;
