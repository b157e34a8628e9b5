import type { RefObject } from 'react';

/** What a button or a menu opens to have a file chosen: `ref.current?.click()`. The same file can be chosen again. */
export function HiddenFile({
  of,
  label,
  accept,
  multiple = false,
  onFiles,
}: {
  of: RefObject<HTMLInputElement | null>;
  label: string;
  /** Kinds and endings, as `<input type="file">` has them. */
  accept?: string;
  multiple?: boolean;
  onFiles: (files: File[]) => void;
}) {
  return (
    <input
      ref={of}
      type="file"
      hidden
      multiple={multiple}
      accept={accept}
      aria-label={label}
      onChange={({ target }) => {
        // A list of its own: emptying the field would empty the browser's.
        const files = [...(target.files ?? [])];
        target.value = '';
        if (files.length > 0) onFiles(files);
      }}
    />
  );
}
