import AddRounded from '@mui/icons-material/AddRounded';
import CloseRounded from '@mui/icons-material/CloseRounded';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import { commandShape, type Press } from '~/core/commands/commands';
import { boundKeys, keyConflict, keysOf, keyWords } from '~/core/commands/keys';
import { recordsOf } from '~/core/show/document';
import { ControlsList } from '../controllers/controls-list';
import { SmallButton } from '../studio/small-button';
import { useDesk, useDocument, useStudio } from '../studio/studio-context';
import { Toggle } from '../studio/toggle';
import { useTranslation } from '../words/words';
import { setLetterKeys, useLetterKeys } from './letter-keys';
import { newPress, PressFields } from './press-fields';
import { pressWords } from './press-words';

const onMac = /Mac/.test(navigator.platform);

/** All keys and what they call; keys of the show are added here, for any command. */
export function KeysDialog({ onClose }: { onClose: () => void }) {
  const { store, showId } = useStudio();
  const document = useDocument();
  const onAirSceneId = useDesk((now) => now.onAirSceneId);
  const letters = useLetterKeys();
  const { t } = useTranslation();
  const [press, setPress] = useState<Press | null>(null);
  const shortcuts = recordsOf(document, 'shortcut');
  const own = new Set(shortcuts.map(({ keys }) => keys));
  const standing = boundKeys(document, onAirSceneId).filter(
    ({ by, keys }) => by !== 'shortcut' && !own.has(keys),
  );
  const add = (keys: string) => {
    if (!press) return;
    store.edit(`Key ${keyWords(keys)}`, [
      {
        kind: 'shortcut',
        id: crypto.randomUUID(),
        showId,
        name: keyWords(keys),
        position: (shortcuts.at(-1)?.position ?? -1) + 1,
        keys,
        press,
      },
    ]);
    setPress(null);
  };
  const holds = (of: Press) => {
    const { careful, holds } = commandShape(of.command);
    return careful || holds ? ` (${t('keys.hold')})` : '';
  };
  return (
    <Dialog open onClose={onClose} aria-labelledby="keys-title" fullWidth maxWidth="sm">
      <DialogTitle id="keys-title" className="dialog-title">
        {t('keys.title')}
      </DialogTitle>
      <DialogContent>
        <p className="hint">{t('keys.hint')}</p>
        <Toggle label={t('keys.letters')} on={letters} onChange={setLetterKeys} />
        <p className="hint">{t('keys.lettersHint')}</p>
        <h3 className="small-head">{t('keys.own')}</h3>
        {shortcuts.length === 0 && <p className="hint">{t('keys.none')}</p>}
        <ul className="keys">
          {shortcuts.map((shortcut) => (
            <li key={shortcut.id}>
              <kbd>{keyWords(shortcut.keys, onMac)}</kbd>
              <span className="one-line">
                {pressWords(shortcut.press, document)}
                {holds(shortcut.press)}
              </span>
              <SmallButton
                label={t('keys.remove', { keys: keyWords(shortcut.keys, onMac) })}
                onClick={() => store.edit(`Remove key ${shortcut.name}`, [], [shortcut.id])}
              >
                <CloseRounded />
              </SmallButton>
            </li>
          ))}
        </ul>
        {press ? (
          <div className="press-fields">
            <PressFields press={press} onChange={setPress} />
            <KeyCatcher onKeys={add} />
          </div>
        ) : (
          <Button startIcon={<AddRounded />} onClick={() => setPress(newPress(document, 'onlyVoices'))}>
            {t('keys.add')}
          </Button>
        )}
        <ControlsList />
        <h3 className="small-head">{t('keys.standing')}</h3>
        <ul className="keys">
          {standing.map(({ keys, press: of, by }) => (
            <li key={`${keys}/${by}`}>
              <kbd>{keyWords(keys, onMac)}</kbd>
              <span className="one-line">
                {pressWords(of, document)}
                {holds(of)}
              </span>
              <small>{t(`keys.of.${by}`)}</small>
            </li>
          ))}
        </ul>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>{t('keys.close')}</Button>
      </DialogActions>
    </Dialog>
  );
}

/** Waits for a key; says why one cannot be had. */
function KeyCatcher({ onKeys }: { onKeys: (keys: string) => void }) {
  const document = useDocument();
  const { t } = useTranslation();
  const [waiting, setWaiting] = useState(false);
  const [problem, setProblem] = useState('');
  return (
    <>
      <Button
        variant="outlined"
        onClick={() => setWaiting(true)}
        onBlur={() => setWaiting(false)}
        onKeyDown={(event) => {
          if (!waiting) return;
          event.preventDefault();
          event.stopPropagation();
          if (event.key === 'Escape') return setWaiting(false);
          const keys = keysOf(event.nativeEvent);
          if (keys === null) return;
          const conflict = keyConflict(document, keys, null);
          if (!conflict) return onKeys(keys);
          setProblem(
            conflict.by === 'browser'
              ? t('keys.takenBrowser', { keys: keyWords(keys, onMac) })
              : t('keys.takenBy', {
                  keys: keyWords(keys, onMac),
                  what: pressWords(conflict.bound.press, document),
                }),
          );
        }}
      >
        {waiting ? t('keys.pressNow') : t('keys.press')}
      </Button>
      <span role="status" className="trouble">
        {problem}
      </span>
    </>
  );
}
