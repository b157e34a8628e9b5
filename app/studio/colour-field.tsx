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
        value={value.slice(0, 7)}
        onChange={(e) => onChange(e.target.value + value.slice(7))}
        style={{ width: 38, height: 20, padding: 0, border: 0, background: 'none' }}
      />
    </label>
  );
}
