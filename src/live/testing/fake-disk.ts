/** A browser's own disk in memory, as workers see it: what was written stays when the writer is killed. */
export interface FakeDisk {
  /** For `navigator.storage`. */
  storage: { getDirectory(): Promise<FakeFolder> };
  /** The writer is gone: its handles are closed; a write it had begun may be there in part. */
  kill(torn: Uint8Array): void;
  /** From now on nobody who wants to open a file for writing gets an answer. */
  fallSilent(): void;
  /** From now on whatever is opened, read or removed takes so long. */
  becomeSlow(milliseconds: number): void;
  /** From now on so many bytes can be written. */
  setRoom(bytes: number): void;
  /** Paths of all files. */
  files(): string[];
  /** How often sound was read again. */
  reads(): number;
  /** What a file holds, as text. */
  text(path: string): string;
  /** Replaces what a file holds. */
  overwrite(path: string, bytes: Uint8Array): void;
}

interface FakeFolder {
  getDirectoryHandle(name: string, options?: { create?: boolean }): Promise<FakeFolder>;
  getFileHandle(name: string, options?: { create?: boolean }): Promise<FakeFile>;
  removeEntry(name: string, options?: { recursive?: boolean }): Promise<void>;
  keys(): AsyncIterable<string>;
}

interface FakeFile {
  getFile(): Promise<{ arrayBuffer(): Promise<ArrayBuffer>; text(): Promise<string> }>;
  createSyncAccessHandle(): Promise<FileSystemSyncAccessHandle>;
}

class Content {
  bytes = new Uint8Array(1024);
  length = 0;
  opened = false;

  put(part: Uint8Array, at: number): void {
    const end = at + part.length;
    if (end > this.bytes.length) {
      const larger = new Uint8Array(2 * end);
      larger.set(this.bytes.subarray(0, this.length));
      this.bytes = larger;
    }
    this.bytes.set(part, at);
    this.length = Math.max(this.length, end);
  }

  copy(): Uint8Array<ArrayBuffer> {
    return this.bytes.slice(0, this.length);
  }
}

const notFound = () => Object.assign(new Error('Not there.'), { name: 'NotFoundError' });

export function createFakeDisk(): FakeDisk {
  const files = new Map<string, Content>();
  const folders = new Set<string>(['']);
  let room = Infinity;
  let life = 0;
  let silent = false;
  let slowMs = 0;
  const slowly = async (): Promise<void> => {
    if (slowMs > 0) await new Promise((resolve) => setTimeout(resolve, slowMs));
  };
  let reads = 0;
  let last: Content | null = null;

  const fileHandle = (name: string, content: Content): FakeFile => ({
    async getFile() {
      await slowly();
      return {
        arrayBuffer() {
          reads++;
          return Promise.resolve(content.copy().buffer);
        },
        text: () => Promise.resolve(new TextDecoder().decode(content.copy())),
      };
    },
    async createSyncAccessHandle() {
      if (silent) return new Promise(() => undefined);
      await slowly();
      // One writer a file, as the File System Standard has it.
      if (content.opened) throw new Error('NoModificationAllowedError');
      content.opened = true;
      const mine = life;
      const alive = () => {
        if (mine !== life) throw new Error('A writer that was killed wrote.');
      };
      return {
        write(part, options) {
          alive();
          const fits = part.subarray(0, room);
          room -= fits.length;
          content.put(fits, options?.at ?? content.length);
          if (name.endsWith('.blocks')) last = content;
          return fits.length;
        },
        getSize: () => content.length,
        truncate(size) {
          alive();
          content.length = size;
        },
        flush: alive,
        close() {
          if (mine === life) content.opened = false;
        },
      };
    },
  });

  const folderHandle = (path: string): FakeFolder => ({
    getDirectoryHandle(name, options) {
      const inner = `${path}${name}/`;
      if (options?.create) folders.add(inner);
      return folders.has(inner) ? Promise.resolve(folderHandle(inner)) : Promise.reject(notFound());
    },
    getFileHandle(name, options) {
      const inner = path + name;
      if (options?.create && !files.has(inner)) files.set(inner, new Content());
      const content = files.get(inner);
      return content ? Promise.resolve(fileHandle(name, content)) : Promise.reject(notFound());
    },
    async removeEntry(name, options) {
      await slowly();
      const inner = path + name;
      if (options?.recursive) {
        for (const one of files.keys()) if (one.startsWith(`${inner}/`)) files.delete(one);
        for (const one of folders) if (one.startsWith(`${inner}/`)) folders.delete(one);
        return;
      }
      if (!files.delete(inner)) throw notFound();
    },
    async *keys() {
      const names = [...files.keys(), ...folders].filter((one) => one.startsWith(path) && one !== path).map((one) => one.slice(path.length).split('/')[0]);
      yield* new Set(names);
    },
  });

  return {
    storage: { getDirectory: () => Promise.resolve(folderHandle('')) },
    kill(torn) {
      life++;
      for (const content of files.values()) content.opened = false;
      last?.put(torn, last.length);
      last = null;
    },
    fallSilent() {
      silent = true;
    },
    becomeSlow(milliseconds) {
      slowMs = milliseconds;
    },
    setRoom(bytes) {
      room = bytes;
    },
    files: () => [...files.keys()],
    reads: () => reads,
    text: (path) => new TextDecoder().decode(files.get(path)!.copy()),
    overwrite(path, bytes) {
      const content = new Content();
      content.put(bytes, 0);
      files.set(path, content);
    },
  };
}
