import { connect, createServer, type AddressInfo } from 'node:net';

/** A way to a database that can be shut. */
export interface DatabaseDoor {
  /** The database, through the door. */
  url: string;
  /** How often somebody came. */
  asked(): number;
  /** Whoever is inside is put out. */
  breakOff(): void;
  shut(): void;
  open(): void;
  close(): void;
}

/** @param refusals so many are turned away at first */
export async function databaseDoor(database: string, refusals = 0): Promise<DatabaseDoor> {
  const inside = new URL(database);
  const callers = new Set<() => void>();
  let asked = 0;
  let isShut = false;
  const door = createServer((caller) => {
    caller.on('error', () => undefined);
    if (asked++ < refusals || isShut) return void caller.destroy();
    const server = connect(Number(inside.port), inside.hostname);
    server.on('error', () => caller.destroy());
    caller.pipe(server).pipe(caller);
    const end = () => {
      caller.destroy();
      server.destroy();
    };
    callers.add(end);
    caller.on('close', () => {
      callers.delete(end);
      server.destroy();
    });
  });
  await new Promise<void>((resolve) => door.listen(0, '127.0.0.1', resolve));
  const url = new URL(inside);
  url.hostname = '127.0.0.1';
  url.port = String((door.address() as AddressInfo).port);
  const breakOff = () => callers.forEach((end) => end());
  return {
    url: url.href,
    asked: () => asked,
    breakOff,
    shut: () => {
      isShut = true;
      breakOff();
    },
    open: () => void (isShut = false),
    close: () => {
      breakOff();
      door.close();
    },
  };
}
