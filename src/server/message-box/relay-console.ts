import { connect } from 'node:net';
import { log } from '../log';
import { relayUser } from './ice';

const ANSWER_WITHIN_MS = 2000;
const SESSION = /id=(\d+), user <\d+:([^>]*)>/g;

/**
 * Ends everything that goes through the product's own relay with a seat's credentials, by coturn's console. Credentials cannot be
 * taken back; those that were given run out within the hour, and what is open ends now. True when there was something.
 * A relay that does not answer is logged, and no fault of whoever asked: the link has ended all the same.
 * @param console its port and password, `port:password`; an outside relay has none
 */
export async function endRelayed(episode: string, seat: string, console = process.env.RELAY_CONSOLE): Promise<boolean> {
  const [port, password] = (console ?? '').split(':');
  if (!password) return false;
  try {
    return await endSessionsOf(relayUser(episode, seat), Number(port), password);
  } catch (err) {
    log.warn({ err }, 'the relay was not asked to end what goes through it');
    return false;
  }
}

async function endSessionsOf(user: string, port: number, password: string): Promise<boolean> {
  const asked = await converse(port, password, [`psp ${user}`]);
  // It tells of everybody whose name holds this one.
  const theirs = [...asked.matchAll(SESSION)].filter(([, , whose]) => whose === user).map(([, id]) => id);
  if (theirs.length > 0) await converse(port, password, theirs.map((id) => `cs ${id}`));
  return theirs.length > 0;
}

/** Says lines to the console, each after the answer to the one before. Gives everything it said. */
function converse(port: number, password: string, lines: readonly string[]): Promise<string> {
  return new Promise((resolve, reject) => {
    const socket = connect(port, '127.0.0.1');
    const left = [password, ...lines, 'quit'];
    let heard = '';
    let answered = 0;
    socket.setEncoding('utf8').setTimeout(ANSWER_WITHIN_MS, () => socket.destroy(new Error('The relay’s console did not answer.')));
    socket.on('data', (text: string) => {
      heard += text;
      // It asks for the password once, and is ready for the next line at every prompt.
      const ready = (heard.match(/password: |> /g) ?? []).length;
      while (answered < ready && left.length > 0) {
        answered++;
        socket.write(`${left.shift()}\r\n`);
      }
    });
    // It answers the last line by breaking off.
    socket.on('error', (error) => (left.length === 0 ? resolve(heard) : reject(error)));
    socket.on('close', () => resolve(heard));
  });
}
