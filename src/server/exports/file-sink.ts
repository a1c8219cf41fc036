import { open, type FileHandle } from 'node:fs/promises';

/** A file that is written from front to back, with corrections at its beginning. */
export interface FileSink {
  write(bytes: Uint8Array): Promise<void>;
  writeAt(position: number, bytes: Uint8Array): Promise<void>;
  close(): Promise<number>;
}

export async function createFileSink(path: string): Promise<FileSink> {
  const file: FileHandle = await open(path, 'w');
  let length = 0;
  return {
    async write(bytes) {
      await file.write(bytes, 0, bytes.length, length);
      length += bytes.length;
    },
    async writeAt(position, bytes) {
      await file.write(bytes, 0, bytes.length, position);
    },
    async close() {
      await file.close();
      return length;
    },
  };
}
