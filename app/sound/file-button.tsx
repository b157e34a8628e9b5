import Button from '@mui/material/Button';
import { useState } from 'react';
import { messageOf } from '~/core/fault';
import type { ListedFile } from '~/core/show/records';
import { bringIn } from '../stage/upload-file';
import { useStudio } from '../studio/studio-context';

/** Chooses sound files and brings them into the show, with progress. */
export function FileButton({ label, onFiles }: { label: string; onFiles: (files: ListedFile[]) => void }) {
  const { say, showId } = useStudio();
  const [share, setShare] = useState<number | null>(null);
  const take = async (files: readonly File[]) => {
    const taken: ListedFile[] = [];
    for (const file of files)
      try {
        setShare(0);
        const { asset } = await bringIn(`/show/${showId}/assets`, file, setShare);
        taken.push({ assetId: asset.id, name: file.name.replace(/\.\w+$/, '').slice(0, 120) || 'Sound' });
      } catch (error) {
        say(messageOf(error));
      }
    setShare(null);
    if (taken.length > 0) onFiles(taken);
  };
  return (
    <Button component="label" size="small" disabled={share !== null}>
      {share === null ? label : `${Math.round(share * 100)} %`}
      <input
        type="file"
        hidden
        multiple
        accept="audio/*"
        aria-label={label}
        onChange={(e) => {
          // A list of its own: emptying the field would empty the browser's.
          if (e.target.files) void take([...e.target.files]);
          e.target.value = '';
        }}
      />
    </Button>
  );
}
