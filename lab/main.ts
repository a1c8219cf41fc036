import { UsageError } from './arguments';
import * as align from './commands/align';
import * as audit from './commands/audit';
import * as check from './commands/check';
import * as call from './commands/call';
import * as isolation from './commands/isolation';
import * as loudness from './commands/loudness';
import * as repair from './commands/repair';
import * as sounds from './commands/sounds';
import * as throughput from './commands/throughput';

interface Command {
  usage: string;
  run(words: readonly string[]): object | Promise<object>;
}

const COMMANDS: Record<string, Command> = { call, audit, check, sounds, throughput, loudness, isolation, repair, align };

const usageOfAll = (): string => Object.values(COMMANDS).map(({ usage }) => `  ${usage}`).join('\n');

const [name = '', ...words] = process.argv.slice(2);
const command = Object.hasOwn(COMMANDS, name) ? COMMANDS[name] : undefined;
if (!command) {
  console.error(`usage:\n${usageOfAll()}`);
  process.exitCode = 2;
} else {
  try {
    const result = await command.run(words);
    process.stdout.write(`${JSON.stringify(result, null, words.includes('--json') ? 0 : 2)}\n`);
  } catch (error) {
    if (!(error instanceof UsageError)) throw error;
    console.error(`${error.message}\nusage: ${command.usage}`);
    process.exitCode = 2;
  }
}
