import type { CSSProperties, ReactNode } from 'react';

/** A surface with a title row. */
export function Panel({
  title,
  aside,
  children,
  style,
  label,
}: {
  title?: ReactNode;
  aside?: ReactNode;
  children: ReactNode;
  style?: CSSProperties;
  label?: string;
}) {
  return (
    <section
      aria-label={label}
      style={{
        background: 'var(--surface)',
        borderRadius: 10,
        padding: 12,
        minHeight: 0,
        minWidth: 0,
        overflow: 'auto',
        ...style,
      }}
    >
      {(title !== undefined || aside !== undefined) && (
        <div
          style={{
            display: 'flex',
            alignItems: 'center',
            justifyContent: 'space-between',
            minHeight: 32,
            marginBottom: 6,
            gap: 8,
          }}
        >
          <h2 style={{ margin: 0, fontSize: 13.5, fontWeight: 600, color: 'var(--quiet)' }}>{title}</h2>
          {aside}
        </div>
      )}
      {children}
    </section>
  );
}
