import Button from '@mui/material/Button';
import { useState } from 'react';
import { useDesk, useStore, useStudio } from './studio-context';

/** What went wrong with the show or the desk, in every place, until it was read. */
export function Notices() {
  const { store } = useStudio();
  const notice = useStore((now) => now.notice);
  const fault = useDesk((now) => now.faults.at(-1) ?? null);
  const [read, setRead] = useState<string | null>(null);
  const text = notice ?? (fault === read ? null : fault);
  if (text === null) return null;
  return (
    <div role="alert" className="studio-notice">
      <span>{text}</span>
      <Button onClick={() => (notice === null ? setRead(fault) : store.dismissNotice())}>All right</Button>
    </div>
  );
}
