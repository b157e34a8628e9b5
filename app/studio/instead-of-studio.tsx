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

/** One desk at a time: two would mix and send twice. @param closed the other window is gone by now */
export function DeskElsewhere({ closed, onTakeOver }: { closed: boolean; onTakeOver: () => void }) {
  if (closed)
    return (
      <Card title="The desk was closed in the other window">
        <p>Nothing mixes and sends this show now. If it is on air, viewers see the cover.</p>
        <Button variant="contained" color="primary" sx={{ bgcolor: 'primary.main' }} onClick={onTakeOver}>
          Go on here
        </Button>
      </Card>
    );
  return (
    <Card title="The desk is open in another window">
      <p>One window at a time mixes and sends this show. What is on air continues there.</p>
      <p style={{ color: 'var(--quiet)' }}>
        If you take over, the other window stops; viewers see the cover for a moment, then this desk.
      </p>
      <Button variant="contained" color="primary" sx={{ bgcolor: 'primary.main' }} onClick={onTakeOver}>
        Take over here
      </Button>
    </Card>
  );
}

export function ShowGone() {
  return (
    <Card title="This show was deleted in another window">
      <p>It can be brought back on Home for thirty days, as it was.</p>
      <Button component="a" href="/" variant="contained" color="primary" sx={{ bgcolor: 'primary.main' }}>
        Go to Home
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
