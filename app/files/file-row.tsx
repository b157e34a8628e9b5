import AudiotrackRounded from '@mui/icons-material/AudiotrackRounded';
import InsertDriveFileRounded from '@mui/icons-material/InsertDriveFileRounded';
import MoreVertRounded from '@mui/icons-material/MoreVertRounded';
import MovieRounded from '@mui/icons-material/MovieRounded';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useRef, useState } from 'react';
import type { KeptFile } from '~/server/vault/file-keeper';
import { dayOf } from '../home/format';
import { When } from '../home/when';
import { HiddenFile } from '../studio/hidden-file';
import { SmallButton } from '../studio/small-button';
import { useTranslation } from '../words/words';
import { sizeWords } from './size-words';

/** One file: what it is, where it is used, and what can be done with it. */
export function FileRow({
  file,
  busy,
  onReplace,
  onRemove,
  onRestore,
}: {
  file: KeptFile;
  busy: boolean;
  onReplace: (by: File) => void;
  onRemove: () => void;
  onRestore: () => void;
}) {
  const { t } = useTranslation();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const chosen = useRef<HTMLInputElement>(null);
  const { name, mime, bytes, addedMs, uses, unusedMs, removedMs } = file;
  const used = uses.length > 0;
  const close = () => setAnchor(null);
  return (
    <tr data-used={used}>
      <th scope="row">
        <span className="files-picture" aria-hidden>
          {mime.startsWith('image/') ? (
            <img src={`/files/assets/${file.id}`} alt="" loading="lazy" />
          ) : mime.startsWith('video/') ? (
            <MovieRounded />
          ) : mime.startsWith('audio/') ? (
            <AudiotrackRounded />
          ) : (
            <InsertDriveFileRounded />
          )}
        </span>
        <span className="one-line" title={name}>
          {name}
        </span>
      </th>
      <td className="figure">{sizeWords(bytes)}</td>
      <td>
        <When words={() => dayOf(addedMs)} />
      </td>
      <td className="files-uses">
        {removedMs !== null ? (
          <When words={() => t('files.removedOn', { date: dayOf(removedMs) })} />
        ) : used ? (
          uses.map(({ showId, show, records }) => {
            const words = t('files.usedBy', { show, records: LIST.format(new Set(records)) });
            return (
              <span key={showId} className="one-line" title={words}>
                {words}
              </span>
            );
          })
        ) : unusedMs !== null ? (
          <When words={() => t('files.notUsedSince', { date: dayOf(unusedMs) })} />
        ) : (
          t('files.notUsed')
        )}
      </td>
      <td>
        <SmallButton
          label={t('files.menu', { name })}
          disabled={busy}
          onClick={(e) => setAnchor(e.currentTarget)}
        >
          <MoreVertRounded />
        </SmallButton>
        <HiddenFile of={chosen} label={t('files.replace')} onFiles={([by]) => onReplace(by)} />
        {anchor && (
          <Menu open anchorEl={anchor} onClose={close}>
            {removedMs === null ? (
              [
                <MenuItem
                  key="replace"
                  disabled={!used}
                  onClick={() => {
                    close();
                    chosen.current?.click();
                  }}
                >
                  {t('files.replace')}
                </MenuItem>,
                <MenuItem
                  key="remove"
                  disabled={used}
                  onClick={() => {
                    close();
                    onRemove();
                  }}
                >
                  {t('files.remove')}
                </MenuItem>,
              ]
            ) : (
              <MenuItem
                onClick={() => {
                  close();
                  onRestore();
                }}
              >
                {t('files.restore')}
              </MenuItem>
            )}
          </Menu>
        )}
      </td>
    </tr>
  );
}

const LIST = new Intl.ListFormat('en-GB');
