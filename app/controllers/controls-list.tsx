import AddRounded from '@mui/icons-material/AddRounded';
import CloseRounded from '@mui/icons-material/CloseRounded';
import Button from '@mui/material/Button';
import { useEffect, useRef, useState, useSyncExternalStore } from 'react';
import type { Press } from '~/core/commands/commands';
import { modeOf, type ControlMove } from '~/core/controllers/midi';
import { recordsOf } from '~/core/show/document';
import { newPress, PressFields } from '../commands/press-fields';
import { pressWords } from '../commands/press-words';
import { SmallButton } from '../studio/small-button';
import { useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

/** What a control is shows itself in the moves of this long. */
const LEARN_MS = 900;

/** Controllers that are plugged in, and what their controls call; one is taught by moving it. */
export function ControlsList() {
  const { store, showId, controllers } = useStudio();
  const document = useDocument();
  const { devices, problem } = useSyncExternalStore(controllers.subscribe, controllers.snapshot);
  const { t } = useTranslation();
  const [press, setPress] = useState<Press | null>(null);
  const controls = recordsOf(document, 'control');
  const learnt = (device: string, moves: readonly ControlMove[]) => {
    if (!press) return;
    const [{ of, channel, number }] = moves;
    const name = t('keys.controlOf', { device, what: of, number });
    store.edit(`Control ${name}`.slice(0, 200), [
      {
        kind: 'control',
        id: crypto.randomUUID(),
        showId,
        name: name.slice(0, 120),
        position: (controls.at(-1)?.position ?? -1) + 1,
        device,
        of,
        channel,
        number,
        mode: ['level', 'nudge', 'draw'].includes(press.command) ? faderMode(moves) : 'button',
        press,
      },
    ]);
    setPress(null);
  };
  return (
    <>
      <h3 className="small-head">{t('keys.controllers')}</h3>
      <p className="hint" aria-live="polite">
        {problem === 'none'
          ? t('keys.noMidi')
          : problem === 'refused'
            ? t('keys.refused')
            : devices.length > 0
              ? t('keys.connected', { names: new Intl.ListFormat('en').format(devices) })
              : t('keys.nobody')}
      </p>
      <div className="plan-head">
        <Button onClick={() => void controllers.connect()}>{t('keys.connect')}</Button>
        <Button component="a" href="/controller" target="_blank" rel="noopener">
          {t('keys.standIn')}
        </Button>
      </div>
      {controls.length === 0 && <p className="hint">{t('keys.noControls')}</p>}
      <ul className="keys">
        {controls.map((control) => (
          <li key={control.id}>
            <span className="one-line" title={control.name}>
              {control.name}
            </span>
            <span className="one-line">
              {pressWords(control.press, document)} ({t(`keys.modes.${control.mode}`)})
            </span>
            <SmallButton
              label={t('keys.removeControl', { name: control.name })}
              onClick={() => store.edit(`Remove ${control.name}`, [], [control.id])}
            >
              <CloseRounded />
            </SmallButton>
          </li>
        ))}
      </ul>
      {press ? (
        <div className="press-fields">
          <PressFields press={press} onChange={setPress} />
          <Learn onLearnt={learnt} />
        </div>
      ) : (
        <Button startIcon={<AddRounded />} onClick={() => setPress(newPress(document, 'level'))}>
          {t('keys.learn')}
        </Button>
      )}
    </>
  );
}

/** A fader or an encoder, whichever it moves like; a button is no way to set a level by hand. */
function faderMode(moves: readonly ControlMove[]): 'fader' | 'relative' {
  return modeOf(moves) === 'relative' ? 'relative' : 'fader';
}

/** Listens to what is moved first, and to how it moves. */
function Learn({ onLearnt }: { onLearnt: (device: string, moves: readonly ControlMove[]) => void }) {
  const { controllers } = useStudio();
  const { t } = useTranslation();
  const done = useRef(onLearnt);
  done.current = onLearnt;
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    let first: { device: string; moves: ControlMove[] } | null = null;
    controllers.onLearn = (device, move) => {
      first ??= { device, moves: [] };
      const [known] = first.moves;
      if (first.device !== device || (known && (known.of !== move.of || known.number !== move.number)))
        return;
      first.moves.push(move);
      timer ??= setTimeout(() => first && done.current(first.device, first.moves), LEARN_MS);
    };
    return () => {
      clearTimeout(timer);
      controllers.onLearn = null;
    };
  }, [controllers]);
  return (
    <p role="status" className="notice-line">
      {t('keys.learnNow')}
    </p>
  );
}
