// What a worker may do with a file of the Origin Private File System (File System Standard, 2.4);
// the page's own type library leaves it out.
interface FileSystemSyncAccessHandle {
  write(bytes: Uint8Array<ArrayBuffer>, options?: { at: number }): number;
  getSize(): number;
  truncate(size: number): void;
  flush(): void;
  close(): void;
  /** Missing where a file can be open only once. */
  readonly mode?: 'readwrite' | 'read-only' | 'readwrite-unsafe';
}

interface FileSystemFileHandle {
  createSyncAccessHandle(options?: { mode: 'readwrite-unsafe' }): Promise<FileSystemSyncAccessHandle>;
}
