import AddRounded from '@mui/icons-material/AddRounded';
import ArrowDownwardRounded from '@mui/icons-material/ArrowDownwardRounded';
import ArrowUpwardRounded from '@mui/icons-material/ArrowUpwardRounded';
import DeleteOutlineRounded from '@mui/icons-material/DeleteOutlineRounded';
import Button from '@mui/material/Button';
import { useRef } from 'react';
import type { ListedFile } from '~/core/show/records';
import { HiddenFile } from '../studio/hidden-file';
import { SmallButton } from '../studio/small-button';
import { useTranslation } from '../words/words';
import { useAdd } from './use-add';

/** The files of a list: in order, to be moved, removed and added to. */
export function FileRows({
  files,
  kind,
  onChange,
}: {
  files: readonly ListedFile[];
  kind: 'clips' | 'slides';
  onChange: (files: ListedFile[]) => void;
}) {
  const { takeFiles, progress } = useAdd();
  const { t } = useTranslation();
  const chooser = useRef<HTMLInputElement>(null);
  const move = (from: number, to: number) => {
    const next = [...files];
    next.splice(to, 0, ...next.splice(from, 1));
    onChange(next);
  };
  const add = async (chosen: File[]) => {
    const wanted = kind === 'clips' ? 'video/' : 'image/';
    const came = (await takeFiles(chosen)).filter((c) => c.mime.startsWith(wanted));
    if (came.length > 0) onChange([...files, ...came.map((c) => c.listed)]);
  };
  return (
    <div>
      <ol aria-label={t('layout.files')} style={{ listStyle: 'none', margin: 0, padding: 0 }}>
        {files.map((file, i) => (
          <li key={`${file.assetId}${i}`} style={{ display: 'flex', alignItems: 'center', minHeight: 28 }}>
            <span
              title={file.name}
              style={{
                flex: 1,
                minWidth: 0,
                fontSize: 12.5,
                overflow: 'hidden',
                textOverflow: 'ellipsis',
                whiteSpace: 'nowrap',
              }}
            >
              {file.name}
            </span>
            <SmallButton
              label={t('layout.moveNameUp', { name: file.name })}
              disabled={i === 0}
              onClick={() => move(i, i - 1)}
            >
              <ArrowUpwardRounded />
            </SmallButton>
            <SmallButton
              label={t('layout.moveNameDown', { name: file.name })}
              disabled={i === files.length - 1}
              onClick={() => move(i, i + 1)}
            >
              <ArrowDownwardRounded />
            </SmallButton>
            <SmallButton
              label={t('layout.takeNameOut', { name: file.name })}
              disabled={files.length === 1}
              onClick={() => onChange(files.filter((_, n) => n !== i))}
            >
              <DeleteOutlineRounded />
            </SmallButton>
          </li>
        ))}
      </ol>
      <Button
        startIcon={<AddRounded />}
        disabled={progress !== null}
        onClick={() => chooser.current?.click()}
        sx={{ mt: 0.5 }}
      >
        {progress ? `Bringing in ${Math.round(progress.share * 100)}%` : t('layout.addFiles')}
      </Button>
      <HiddenFile
        of={chooser}
        label={t('addInput.listFiles')}
        multiple
        accept={kind === 'clips' ? 'video/*,.mkv' : 'image/*'}
        onFiles={(chosen) => void add(chosen)}
      />
    </div>
  );
}
