import { useState } from 'react';

/** A name that stands in a field all the time; committed by Enter or leaving, taken back by Escape. */
export function NameField({
  name,
  label,
  onRename,
}: {
  name: string;
  label: string;
  onRename: (name: string) => void;
}) {
  const [text, setText] = useState<string | null>(null);
  const commit = () => {
    const next = (text ?? '').trim().slice(0, 40);
    if (text !== null && next !== '' && next !== name) onRename(next);
    setText(null);
  };
  return (
    <input
      className="name-field"
      aria-label={label}
      value={text ?? name}
      onChange={(e) => setText(e.target.value)}
      onBlur={commit}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === 'Enter') e.currentTarget.blur();
        if (e.key === 'Escape') setText(null);
      }}
    />
  );
}
