import TextField from '@mui/material/TextField';
import { useEffect, useRef, useState } from 'react';
import { steady } from './steady';

/** A text to type: committed by leaving (or Enter, on one line), taken back by Escape; an empty one is not taken unless it may be. */
export const CommitField = steady(function CommitField({
  label,
  value,
  onCommit,
  max = 120,
  allowEmpty = false,
  lines = 1,
  help,
  problem,
}: {
  label: string;
  value: string;
  onCommit: (value: string) => void;
  max?: number;
  allowEmpty?: boolean;
  /** More than one makes it a field of several lines. */
  lines?: number;
  help?: string;
  /** Why what is typed cannot be taken, or null. */
  problem?: (value: string) => string | null;
}) {
  const [text, setText] = useState(value);
  // What is typed stays typed, whatever another window makes of the value meanwhile.
  const typing = useRef(false);
  useEffect(() => {
    if (!typing.current) setText(value);
  }, [value]);
  const wrong = text === value ? null : (problem?.(text) ?? null);
  const commit = () => {
    typing.current = false;
    const next = lines > 1 ? text : text.trim();
    if (next === value) return setText(value);
    if (wrong !== null || (next.trim() === '' && !allowEmpty)) return setText(value);
    onCommit(next);
  };
  return (
    <TextField
      fullWidth
      label={label}
      value={text}
      multiline={lines > 1}
      minRows={lines > 1 ? lines : undefined}
      maxRows={lines > 1 ? Math.max(lines, 6) : undefined}
      error={wrong !== null}
      helperText={wrong ?? help}
      onChange={(e) => {
        typing.current = true;
        setText(e.target.value.slice(0, max));
      }}
      onBlur={commit}
      onKeyDown={(e) => {
        // Escape takes back what was typed; with nothing to take back it is meant for what the field stands in.
        if (e.key !== 'Escape' || text !== value) e.stopPropagation();
        if (e.key === 'Enter' && lines === 1) (e.target as HTMLElement).blur();
        if (e.key === 'Escape') {
          typing.current = false;
          setText(value);
        }
      }}
    />
  );
});
