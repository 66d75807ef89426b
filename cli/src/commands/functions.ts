import { catalogue, functionSection } from '@jaunty-ledger/core';
import { CommandError } from '../errors';
import { putText } from '../output';

/** The functions of formulas; one of them whole. */
export async function functions(name: string | undefined, asJson: boolean): Promise<void> {
  const all = [...catalogue.values()];
  if (name === undefined) {
    const told = all.map((entry) => ({ name: entry.name, sentence: entry.sentence, example: entry.example }));
    const width = Math.max(...told.map((one) => one.name.length));
    return putText(
      asJson
        ? `${JSON.stringify(told, undefined, 2)}\n`
        : told.map((one) => `${one.name.padEnd(width)}  ${one.sentence}\n`).join(''),
    );
  }
  const entry = all.find((one) => one.name === name);
  if (!entry) throw new CommandError(`No function is called ${name}. \`jaunty functions\` lists them.`);
  return putText(functionSection(entry));
}
