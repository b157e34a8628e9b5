import Button from '@mui/material/Button';
import type { ReactNode } from 'react';

function Card({ title, children }: { title: string; children: ReactNode }) {
  return (
    <main style={{ display: 'grid', placeItems: 'center', height: '100vh' }}>
      <section
        style={{
          background: 'var(--surface)',
          borderRadius: 12,
          padding: 32,
          maxWidth: 560,
          lineHeight: 1.5,
        }}
      >
        <h1 style={{ fontFamily: '"Bricolage Grotesque Variable"', fontSize: 22, marginTop: 0 }}>{title}</h1>
        {children}
      </section>
    </main>
  );
}

/** One desk at a time: two would mix and send twice. */
export function DeskElsewhere({ onTakeOver }: { onTakeOver: () => void }) {
  return (
    <Card title="The desk is open in another window">
      <p>One window at a time mixes and sends this show. What is on air goes on there.</p>
      <p style={{ color: 'var(--quiet)' }}>
        If you take over, the other window stops; viewers see the cover for a moment, then this desk.
      </p>
      <Button variant="contained" color="primary" sx={{ bgcolor: 'primary.main' }} onClick={onTakeOver}>
        Take over here
      </Button>
    </Card>
  );
}

export function MissingFeatures({ missing }: { missing: string[] }) {
  return (
    <Card title="This browser cannot run the studio">
      <p>It lacks:</p>
      <ul>
        {missing.map((name) => (
          <li key={name}>{name}</li>
        ))}
      </ul>
      <p>Open this address in a current Chromium, Chrome or Edge on a computer. Nothing was changed.</p>
    </Card>
  );
}
