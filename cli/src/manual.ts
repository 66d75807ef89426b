import type { Command, Option } from 'commander';
import { EXIT_CODES } from './program';

/* The manual page and the completion scripts, made of the text that --help shows. */

const escaped = (text: string): string => text.replaceAll('\\', '\\\\').replaceAll('-', '\\-').replace(/^\./gm, '\\&.');
const optionLines = (options: readonly Option[]): string =>
  options
    .map(
      ({ flags, description, defaultValue }) =>
        `.TP\n.B ${escaped(flags)}\n${escaped(description)}${defaultValue === undefined ? '' : ` (${escaped(String(defaultValue))} if not given)`}`,
    )
    .join('\n');

/** The manual page, for `man`. */
export function manualPage(program: Command): string {
  const commands = program.commands
    .map(
      (command) =>
        `.SS ${escaped(`${command.name()} ${command.usage().replace('[options] ', '')}`)}\n${escaped(command.description())}.\n${optionLines(command.options)}`,
    )
    .join('\n');
  return `.TH JAUNTY 1
.SH NAME
jaunty \\- ${escaped(program.description())}
.SH SYNOPSIS
.B jaunty
[\\-\\-json] [\\-\\-quiet] COMMAND ...
.SH DESCRIPTION
${escaped(program.description())}
A file of \\- is standard input. Packed files are unpacked as they are read.
.SH OPTIONS
${optionLines(program.options)}
.SH COMMANDS
${commands}
.SH EXIT STATUS
.nf
${escaped(EXIT_CODES)}
.fi
`;
}

const wordsOf = ({ options }: Command): string[] => options.flatMap(({ long }) => (long ? [long] : []));

/** A script that completes the commands and options. */
export function completionScript(program: Command, shell: string): string | undefined {
  const names = program.commands.map((command) => command.name());
  const all = [...names, ...wordsOf(program)].join(' ');
  if (shell === 'bash')
    return `_jaunty() {
  local word="\${COMP_WORDS[COMP_CWORD]}" words
  if [ "$COMP_CWORD" -eq 1 ]; then words="${all}"; else
    case "\${COMP_WORDS[1]}" in
${program.commands.map((command) => `      ${command.name()}) words="${wordsOf(command).join(' ')}" ;;`).join('\n')}
    esac
  fi
  if [[ "$word" == -* || "$COMP_CWORD" -eq 1 ]]; then COMPREPLY=($(compgen -W "$words" -- "$word")); else COMPREPLY=($(compgen -f -- "$word")); fi
}
complete -o filenames -F _jaunty jaunty
`;
  if (shell === 'zsh')
    return `#compdef jaunty
_jaunty() {
  if (( CURRENT == 2 )); then
    compadd -- ${all}
  else
    case "$words[2]" in
${program.commands.map((command) => `      ${command.name()}) [[ "$words[CURRENT]" == -* ]] && compadd -- ${wordsOf(command).join(' ')} || _files ;;`).join('\n')}
    esac
  fi
}
compdef _jaunty jaunty
`;
  if (shell === 'fish')
    return `${program.commands
      .map(
        (command) =>
          `complete -c jaunty -n __fish_use_subcommand -a ${command.name()} -d '${command.description().replaceAll("'", "\\'")}'`,
      )
      .join('\n')}
${program.commands
  .flatMap((command) =>
    command.options.map(
      ({ long, description }) =>
        `complete -c jaunty -n '__fish_seen_subcommand_from ${command.name()}' -l ${long?.slice(2)} -d '${description.replaceAll("'", "\\'")}'`,
    ),
  )
  .join('\n')}
`;
  return undefined;
}
