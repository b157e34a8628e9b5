import { useId, useLayoutEffect, useRef, useState } from 'react';
import { steady } from './steady';

interface Props {
  label: string;
  unit: string;
  value: number;
  min: number;
  max: number;
  digits?: number;
  /** One press of an arrow key; ten times as much with shift. */
  step?: number;
  disabled?: boolean;
  onCommit: (value: number) => void;
}

/** A number to type: kept within its range, committed by Enter or leaving, taken back by Escape. */
export const NumberField = steady(function NumberField({
  label,
  unit,
  value,
  min,
  max,
  digits = 0,
  step = 1,
  disabled = false,
  onCommit,
}: Props) {
  const id = useId();
  const shown = value.toFixed(digits);
  const [text, setText] = useState(shown);
  const field = useRef<HTMLInputElement>(null);
  const typing = useRef(false);
  // A value that changes meanwhile (a glide, another window) takes nothing of what is being typed, and leaves the whole
  // number chosen where nothing was typed yet: else the next digit would be hung on to it.
  useLayoutEffect(() => {
    if (!typing.current) setText(shown);
  }, [shown]);
  useLayoutEffect(() => {
    if (!typing.current && document.activeElement === field.current) field.current?.select();
  }, [text]);
  const commit = (raw: string) => {
    typing.current = false;
    const number = Number(raw.replace(',', '.'));
    if (raw.trim() === '' || !Number.isFinite(number)) return setText(shown);
    const kept = Math.min(max, Math.max(min, number));
    setText(kept.toFixed(digits));
    if (kept.toFixed(digits) !== shown) onCommit(kept);
  };
  return (
    <div
      style={{
        display: 'flex',
        alignItems: 'center',
        gap: 6,
        background: 'var(--ground)',
        borderRadius: 6,
        padding: '0 8px',
        height: 30,
        opacity: disabled ? 0.55 : 1,
        minWidth: 0,
      }}
    >
      <label
        htmlFor={id}
        style={{ color: 'var(--quiet)', fontSize: 12, lineHeight: 1.1, minWidth: 0, flex: '0 1 auto' }}
      >
        {label}
      </label>
      <input
        id={id}
        ref={field}
        className="figure"
        inputMode="decimal"
        value={text}
        disabled={disabled}
        onChange={(event) => {
          typing.current = true;
          setText(event.target.value);
        }}
        onFocus={(event) => event.target.select()}
        onBlur={(event) => commit(event.target.value)}
        onKeyDown={(event) => {
          // Escape takes back what was typed; with nothing to take back it is meant for what the field stands in.
          if (event.key !== 'Escape' || text !== shown) event.stopPropagation();
          if (event.key === 'Enter') commit(event.currentTarget.value);
          else if (event.key === 'Escape') {
            typing.current = false;
            setText(shown);
          } else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
            event.preventDefault();
            // From what stands in the field: a key held down is faster than what is drawn.
            const from = text.trim() === '' ? NaN : Number(text.replace(',', '.'));
            const by = (event.key === 'ArrowUp' ? 1 : -1) * step * (event.shiftKey ? 10 : 1);
            commit(String((Number.isFinite(from) ? from : value) + by));
          }
        }}
        style={{
          // Two lines of a long name rather than no room for the number.
          flex: '1 1 38px',
          width: 38,
          minWidth: 38,
          border: 0,
          background: 'transparent',
          color: 'var(--text)',
          fontSize: 12.5,
          textAlign: 'right',
          padding: 0,
          height: 24,
        }}
      />
      <span
        aria-hidden
        className="figure"
        style={{ color: 'var(--quiet)', fontSize: 12, width: unit.length > 2 ? undefined : 16 }}
      >
        {unit}
      </span>
    </div>
  );
});
