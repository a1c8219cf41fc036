// Brings what the recorder has written from the system's memory to the disk itself. A disk may take seconds for that, and
// the recorder must not wait for it: what it has not drained from the ring is lost when the page is killed.
import type { FlushRequest } from './flusher';

async function flush({ folder, take, name }: FlushRequest): Promise<void> {
  const root = await navigator.storage.getDirectory();
  const files = await (await root.getDirectoryHandle(folder)).getDirectoryHandle(take);
  const handle = await (await files.getFileHandle(name)).createSyncAccessHandle({ mode: 'readwrite-unsafe' });
  handle.flush();
  handle.close();
}

self.onmessage = ({ data }: MessageEvent<FlushRequest>) => {
  // A file that is gone by now was let go of: it is safe elsewhere.
  void flush(data).catch(() => undefined).then(() => self.postMessage(data.name));
};
