import type { Ref } from 'react';

/** A choice of one file that takes no room: a button opens it by `ref`. The same file can be chosen again. */
export function FileInput({ ref, label, accept, onFile }: { ref: Ref<HTMLInputElement>; label: string; accept: string; onFile: (file: File) => void }) {
  return (
    <input
      ref={ref}
      type="file"
      accept={accept}
      aria-label={label}
      hidden
      onChange={({ target }) => {
        const [file] = target.files ?? [];
        if (file) onFile(file);
        target.value = '';
      }}
    />
  );
}
