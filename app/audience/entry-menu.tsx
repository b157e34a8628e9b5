import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Divider from '@mui/material/Divider';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { recordsOf } from '~/core/show/document';
import type { EntryMark, ListedEntry } from '~/protocol/audience-bus';
import { useDocument, useStudio } from '../studio/studio-context';
import { orderOrSay } from '../studio/order';
import { useTranslation } from '../words/words';

/** What can be done with an entry and its writer. */
export function EntryMenu({
  entry: { event, hidden, pinned },
  anchor,
  onClose,
}: {
  entry: ListedEntry;
  anchor: HTMLElement;
  onClose: () => void;
}) {
  const { t } = useTranslation();
  const { showId, bus, say, store } = useStudio();
  const document = useDocument();
  const [note, setNote] = useState<string | null>(null);
  const url = `/show/${showId}/entries`;
  const show = recordsOf(document, 'show')[0];
  const { seq, viewer, platform } = event;
  const then = (act: () => void) => () => {
    onClose();
    act();
  };
  const mark = (value: EntryMark) => void orderOrSay(url, { what: 'mark', seq, mark: value }, say);
  const moderate = async (what: 'remove' | 'timeout' | 'ban') => {
    const answer = await orderOrSay<{ message: string }>(url, { what, seq }, say);
    if (answer) say(answer.message);
  };
  const openNote = async () => {
    const answer = await orderOrSay<{ note: string }>(url, { what: 'note', platform, viewer }, say);
    if (answer) setNote(answer.note);
  };
  if (note !== null)
    return (
      <Dialog open onClose={onClose}>
        <DialogTitle sx={{ fontSize: 16 }}>{`Note on ${viewer.slice(0, 40)}`}</DialogTitle>
        <DialogContent>
          <TextField
            autoFocus
            multiline
            minRows={3}
            fullWidth
            label={t('audience.forYouAlone')}
            value={note}
            onChange={(e) => setNote(e.target.value.slice(0, 2000))}
            onKeyDown={(e) => e.stopPropagation()}
            sx={{ mt: 1, width: 360 }}
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>{t('audience.cancel')}</Button>
          <Button
            variant="contained"
            onClick={then(() => void orderOrSay(url, { what: 'note', platform, viewer, note }, say))}
          >
            {t('audience.save')}
          </Button>
        </DialogActions>
      </Dialog>
    );
  const isChat = event.type === 'chat';
  return (
    <Menu open anchorEl={anchor} onClose={onClose}>
      {isChat &&
        !hidden && [
          <MenuItem key="show" onClick={then(() => bus.say({ type: 'readOut', order: 'show', seq }))}>
            {t('audience.readOutNow')}
          </MenuItem>,
          <MenuItem key="queue" onClick={then(() => bus.say({ type: 'readOut', order: 'queue', seq }))}>
            {t('audience.readOutLater')}
          </MenuItem>,
        ]}
      <MenuItem onClick={then(() => mark(pinned ? 'not-pinned' : 'pinned'))}>
        {pinned ? t('audience.unpin') : t('audience.pin')}
      </MenuItem>
      <MenuItem onClick={() => void openNote()}>{t('audience.noteOnThisViewer')}</MenuItem>
      {isChat && [
        <Divider key="line" />,
        <MenuItem key="hide" disabled={hidden} onClick={then(() => mark('hidden'))}>
          {t('audience.hideFromStream')}
        </MenuItem>,
        <MenuItem key="remove" disabled={hidden} onClick={then(() => void moderate('remove'))}>
          {t('audience.removeOn', { platform })}
        </MenuItem>,
        <MenuItem key="timeout" onClick={then(() => void moderate('timeout'))}>
          {t('audience.timeOutOn', { platform })}
        </MenuItem>,
        <MenuItem key="ban" onClick={then(() => void moderate('ban'))}>
          {t('audience.banOn', { platform })}
        </MenuItem>,
        <MenuItem
          key="never"
          disabled={!show}
          onClick={then(() =>
            store.edit(`${viewer.slice(0, 40)} stays off the picture`, [
              {
                ...show,
                audience: {
                  ...show.audience,
                  hiddenViewers: [...new Set([...show.audience.hiddenViewers, viewer.slice(0, 80)])],
                },
              },
            ]),
          )}
        >
          {t('audience.neverOnMyPicture')}
        </MenuItem>,
      ]}
    </Menu>
  );
}
