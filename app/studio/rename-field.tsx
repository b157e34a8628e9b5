/** A name being typed in place: taken by Enter or leaving, given up by Escape. */
export function RenameField({
  name,
  label,
  onDone,
}: {
  name: string;
  label: string;
  /** The new name, or null when it stays as it was. */
  onDone: (name: string | null) => void;
}) {
  const take = (text: string) => {
    const trimmed = text.trim().slice(0, 120);
    onDone(trimmed !== '' && trimmed !== name ? trimmed : null);
  };
  return (
    <input
      autoFocus
      defaultValue={name}
      aria-label={label}
      onFocus={(e) => e.target.select()}
      onBlur={(e) => take(e.target.value)}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === 'Enter') take(e.currentTarget.value);
        if (e.key === 'Escape') onDone(null);
      }}
      style={{
        flex: 1,
        minWidth: 0,
        background: 'var(--ground)',
        color: 'var(--text)',
        border: '1px solid var(--line)',
        borderRadius: 4,
        font: 'inherit',
        height: 26,
      }}
    />
  );
}
