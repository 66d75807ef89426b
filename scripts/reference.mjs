import { readdirSync } from 'node:fs';
import { join, relative } from 'node:path';
import ts from 'typescript';

/* Reference pages of the packages, from the signatures and the comments of what they export. */

const KINDS = [
  [ts.SymbolFlags.Class, 'class'],
  [ts.SymbolFlags.Function, 'function'],
  [ts.SymbolFlags.Interface, 'interface'],
  [ts.SymbolFlags.TypeAlias, 'type'],
  [ts.SymbolFlags.Variable, 'constant'],
];
const kindOf = ({ flags }) => KINDS.find(([flag]) => flags & flag)?.[1] ?? 'value';

/**
 * @param folder  of the package
 * @param files   whose exports are told, each a section; one alone has none
 */
export function referencePage(title, folder, files) {
  const options = {
    target: ts.ScriptTarget.ES2023,
    module: ts.ModuleKind.NodeNext,
    moduleResolution: ts.ModuleResolutionKind.NodeNext,
    strict: true,
    types: ['node'],
    skipLibCheck: true,
  };
  const program = ts.createProgram(files, options);
  const checker = program.getTypeChecker();
  const sections = files.map((file) => {
    const module = checker.getSymbolAtLocation(program.getSourceFile(file));
    const exported = checker.getExportsOfModule(module).map((symbol) => entryOf(checker, symbol));
    const head = files.length === 1 ? '' : `## ${relative(join(folder, 'src'), file).replace(/\.ts$/, '')}\n\n`;
    return exported.length === 0
      ? ''
      : head +
          exported
            .sort((a, b) => a.name.localeCompare(b.name))
            .map(({ text }) => text)
            .join('\n');
  });
  return `# ${title}\n\nWritten by \`npm run docs\` from the sources.\n\n${sections.filter(Boolean).join('\n')}`;
}

function entryOf(checker, symbol) {
  const own = symbol.flags & ts.SymbolFlags.Alias ? checker.getAliasedSymbol(symbol) : symbol;
  const { name } = symbol;
  const kind = kindOf(own);
  const says = ts.displayPartsToString(own.getDocumentationComment(checker));
  const tags = own.getJsDocTags(checker).map((tag) => {
    const text = ts.displayPartsToString(tag.text);
    return `- ${tag.name}: ${text.replaceAll(/\s*\n\s*/g, ' ')}`;
  });
  const parts = [
    `### ${name}`,
    '',
    `\`\`\`ts\n${signatureOf(checker, own, name, kind)}\n\`\`\``,
    ...(says ? ['', says] : []),
    ...(tags.length > 0 ? ['', ...tags] : []),
    '',
  ];
  return { name, text: parts.join('\n') };
}

function signatureOf(checker, symbol, name, kind) {
  const [declaration] = symbol.declarations ?? [];
  if (!declaration) return name;
  const print = (node) =>
    ts.createPrinter({ removeComments: true }).printNode(ts.EmitHint.Unspecified, node, node.getSourceFile());
  if (kind === 'function' || kind === 'constant') {
    const type = checker.getTypeOfSymbolAtLocation(symbol, declaration);
    const signatures = type.getCallSignatures();
    const flags = ts.TypeFormatFlags.NoTruncation;
    if (signatures.length > 0)
      return signatures.map((one) => `${name}${checker.signatureToString(one, declaration, flags)}`).join('\n');
    const text = checker.typeToString(type, declaration, flags);
    return `${name}: ${text.length > 200 ? `${text.slice(0, 200)}…` : text}`;
  }
  if (kind === 'class') {
    const members = declaration.members
      .filter(
        (member) =>
          !(ts.getCombinedModifierFlags(member) & ts.ModifierFlags.Private) &&
          member.name &&
          ts.isIdentifier(member.name),
      )
      .map((member) => {
        const type = checker.getTypeAtLocation(member);
        const [call] = ts.isMethodDeclaration(member) ? type.getCallSignatures() : [];
        return `  ${member.name.text}${call ? checker.signatureToString(call, member, ts.TypeFormatFlags.NoTruncation) : `: ${checker.typeToString(type)}`};`;
      });
    const constructor = declaration.members.find(ts.isConstructorDeclaration);
    const made = constructor
      ? [
          `  constructor(${constructor.parameters.map((one) => print(ts.factory.updateParameterDeclaration(one, undefined, one.dotDotDotToken, one.name, one.questionToken, one.type, undefined))).join(', ')});`,
        ]
      : [];
    return `class ${name} {\n${[...made, ...members].join('\n')}\n}`;
  }
  return print(declaration).replace(/^export /, '');
}

/** All sources of a package but its tests. */
export function sourcesIn(folder) {
  return readdirSync(join(folder, 'src'), { recursive: true })
    .filter((file) => /\.ts$/.test(file) && !/\.(test|d)\.ts$/.test(file))
    .sort()
    .map((file) => join(folder, 'src', file));
}
