import type { ReactNode } from 'react';

export const FIELD_GRID = { display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 6 } as const;

export function FieldHeading({ children }: { children: ReactNode }) {
  return (
    <h3 style={{ color: 'var(--quiet)', fontSize: 12.5, fontWeight: 600, margin: '12px 0 6px' }}>
      {children}
    </h3>
  );
}
