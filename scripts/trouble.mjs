/** Something the person at the keyboard can put right: shown as one sentence, without a trace. */
export class Trouble extends Error {}

/** Runs a command's main function; troubles are told in a sentence, everything else in full. */
export async function runMain(main) {
  try {
    await main();
  } catch (error) {
    console.error(error instanceof Trouble ? `\n${error.message}` : error);
    process.exitCode = 1;
  }
}
