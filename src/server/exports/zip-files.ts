import type { Readable } from 'node:stream';
import { ZipFile } from 'yazl';

/** A ZIP of files as they are, which hold sound and would not become smaller, and of texts. Beyond 4 GiB it is ZIP64. */
export function zipFiles(files: readonly { path: string; name: string }[], texts: Record<string, string>, mtime: Date): Readable {
  const zip = new ZipFile();
  for (const { path, name } of files) zip.addFile(path, name, { compress: false, mtime });
  for (const [name, text] of Object.entries(texts)) zip.addBuffer(Buffer.from(text), name, { mtime });
  zip.end();
  return zip.outputStream as Readable;
}
