import type { FunctionEntry, OptionRule, Parameter } from './functionEntry.js';

/** The page of all functions in Markdown, by the sections of the definitions. */
export function functionsPage(entries: Iterable<FunctionEntry>): string {
  const sections = new Map<string, FunctionEntry[]>();
  for (const entry of entries) {
    const section = entry.definition.replace(/^\d+\. /, '');
    sections.set(section, [...(sections.get(section) ?? []), entry]);
  }
  const parts = [...sections].map(([section, functions]) => {
    const list = functions.map(({ name }) => `[${name}](#${name})`).join(' · ');
    return `## ${section}\n\n${list}\n\n${functions.map(functionSection).join('\n')}`;
  });
  const head =
    'Written by `npm run docs` from the catalogue, which also drives the checker, the completion, the help page and the API.';
  return `# Functions\n\n${head}\n\n${parts.join('\n')}`;
}

/** One function in Markdown: how it is called, what it does, how it is worked out, and where that comes from. */
export function functionSection(entry: FunctionEntry): string {
  const { name, sentence, remark, example, formula, parameters, options, parts = [], source, cost } = entry;
  const lines = [
    `### ${name}`,
    '',
    `\`${example}\``,
    '',
    remark ? `${sentence} ${remark}` : sentence,
    '',
    `- formula: ${formula}`,
    ...parameters.map((parameter) => `- \`${parameter.name}\`: ${parameter.says}${usually(parameter)}`),
    ...Object.entries(options).map(([option, rule]) => `- \`${option}:\` ${rule.says}${choices(rule)}`),
    ...parts.map((part) => `- part \`.${part.name}\`: ${part.says}`),
    `- source: ${source}; cost: ${cost}`,
    '',
  ];
  return lines.join('\n');
}

const usually = (parameter: Parameter): string =>
  'default' in parameter ? ` (${parameter.default} if not given)` : '';

const choices = (rule: OptionRule): string => (rule.kind === 'word' ? ` (${rule.words.join(', ')})` : '');
