import Button from '@mui/material/Button';
import { useState } from 'react';
import { messageOf } from '~/core/fault';
import type { ListedFile } from '~/core/show/records';
import { bringIn } from '../stage/upload-file';
import { useStudio } from './studio-context';

/** Chooses files (sounds, unless told otherwise) and brings them into the show, with progress. */
export function FileButton({
  label,
  accept = 'audio/*',
  onFiles,
}: {
  label: string;
  accept?: string;
  onFiles: (files: (ListedFile & { mime: string })[]) => void;
}) {
  const { say, showId } = useStudio();
  const [share, setShare] = useState<number | null>(null);
  const take = async (files: readonly File[]) => {
    const taken: (ListedFile & { mime: string })[] = [];
    for (const file of files)
      try {
        setShare(0);
        const { asset } = await bringIn(`/show/${showId}/assets`, file, setShare);
        taken.push({
          assetId: asset.id,
          name: file.name.replace(/\.\w+$/, '').slice(0, 120) || 'File',
          mime: asset.mime,
        });
      } catch (error) {
        say(messageOf(error));
      }
    setShare(null);
    if (taken.length > 0) onFiles(taken);
  };
  return (
    <Button component="label" size="small" disabled={share !== null}>
      {share === null ? label : `${Math.round(share * 100)}%`}
      <input
        type="file"
        hidden
        multiple
        accept={accept}
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
