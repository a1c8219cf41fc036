import { UsageError } from './arguments';

interface Command {
  usage: string;
  run(words: readonly string[]): object | Promise<object>;
}

/** Each is loaded when it is asked for: the start of all takes 0.7 s longer than that of one. */
const COMMANDS: Record<string, () => Promise<Command>> = {
  call: () => import('./commands/call'),
  audit: () => import('./commands/audit'),
  check: () => import('./commands/check'),
  sounds: () => import('./commands/sounds'),
  throughput: () => import('./commands/throughput'),
  loudness: () => import('./commands/loudness'),
  isolation: () => import('./commands/isolation'),
  repair: () => import('./commands/repair'),
  align: () => import('./commands/align'),
};

async function usageOfAll(): Promise<string> {
  const all = await Promise.all(Object.values(COMMANDS).map((load) => load()));
  return all.map(({ usage }) => `  ${usage}`).join('\n');
}

const [name = '', ...words] = process.argv.slice(2);
const command = Object.hasOwn(COMMANDS, name) ? await COMMANDS[name]() : undefined;
if (!command) {
  console.error(`usage:\n${await usageOfAll()}`);
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
