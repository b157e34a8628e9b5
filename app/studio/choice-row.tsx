import type { ReactNode } from 'react';

/** A few choices side by side, one of them taken. */
export function ChoiceRow<T extends string>({
  label,
  options,
  value,
  onChange,
  height = 30,
}: {
  label: string;
  options: readonly { value: T; words: ReactNode; title?: string }[];
  value: T;
  onChange: (value: T) => void;
  height?: number;
}) {
  return (
    <div role="radiogroup" aria-label={label} style={{ display: 'flex', gap: 4, minWidth: 0 }}>
      {options.map((option) => {
        const on = option.value === value;
        return (
          <button
            key={option.value}
            type="button"
            role="radio"
            aria-checked={on}
            title={option.title}
            onClick={() => onChange(option.value)}
            style={{
              flex: 1,
              height,
              padding: '0 9px',
              borderRadius: 6,
              border: 0,
              font: 'inherit',
              fontSize: 12.5,
              cursor: 'pointer',
              whiteSpace: 'nowrap',
              color: on ? 'var(--glacier)' : 'var(--text)',
              background: 'var(--raised)',
              boxShadow: on ? 'inset 0 0 0 1.5px var(--glacier)' : undefined,
            }}
          >
            {option.words}
          </button>
        );
      })}
    </div>
  );
}
