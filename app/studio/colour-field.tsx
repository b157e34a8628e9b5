import { useEffect, useState } from 'react';

/** A colour; its transparency (the last two digits) is kept when the colour changes. */
export function ColourField({
  label,
  value,
  onChange,
}: {
  label: string;
  value: string;
  onChange: (value: string) => void;
}) {
  // What is picked is shown at once, also where the show's own value follows a little later: put back in between, the
  // picker would tell the old one as a second choice.
  const [shown, setShown] = useState(value);
  useEffect(() => setShown(value), [value]);
  return (
    <label
      style={{
        display: 'flex',
        alignItems: 'center',
        justifyContent: 'space-between',
        background: 'var(--ground)',
        borderRadius: 6,
        padding: '0 8px',
        height: 30,
        fontSize: 12,
        color: 'var(--quiet)',
      }}
    >
      {label}
      <input
        type="color"
        value={shown.slice(0, 7)}
        onChange={(e) => {
          const next = e.target.value + value.slice(7);
          setShown(next);
          if (next.toLowerCase() !== value.toLowerCase()) onChange(next);
        }}
        style={{ width: 38, height: 20, padding: 0, border: 0, background: 'none' }}
      />
    </label>
  );
}
