import { useEffect } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { commandShape } from '~/core/commands/commands';
import { boundKeys, isCharacterKey, keysOf } from '~/core/commands/keys';
import { useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';
import { letterKeysOn } from './letter-keys';

/** A key on which much hangs must be held so long. */
const CAREFUL_MS = 1000;
/** Keys that a focused control means for itself. */
const OF_CONTROLS = /^(Shift\+)?(Enter|NumpadEnter|Space)$/;
const CONTROL =
  'button, a, [role="button"], [role="menuitem"], [role="slider"], [role="option"], [role="radio"], select, summary';

const typing = ({ target }: KeyboardEvent): boolean =>
  target instanceof HTMLElement &&
  (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName));

/** Whether a dialog or a menu is open: it has the keys. */
const covered = (): boolean =>
  document.querySelector('[role="dialog"], [role="menu"], [role="listbox"]') !== null;

/** Keys that hold everywhere in the studio. They do nothing while somebody types. */
export function ShortcutKeys() {
  const { store, control, desk, say } = useStudio();
  const { t } = useTranslation();
  useHotkeys('mod+z', () => control.undo(), { preventDefault: true });
  useHotkeys('mod+shift+z, mod+y', () => void store.redo(), { preventDefault: true });
  useEffect(() => {
    /** Commands that are held, by the key that holds them. */
    const held = new Map<string, () => void>();
    const down = (event: KeyboardEvent) => {
      if (event.repeat || event.defaultPrevented || typing(event)) return;
      const keys = keysOf(event);
      if (keys === null || (isCharacterKey(keys) && !letterKeysOn())) return;
      const on = event.target instanceof Element && event.target.closest(CONTROL) !== null;
      if (OF_CONTROLS.test(keys) && (on || covered())) return;
      const bound = boundKeys(store.document(), desk.snapshot().onAirSceneId).find(
        (one) => one.keys === keys,
      );
      if (!bound) return;
      event.preventDefault();
      const tell = (problem: string | null) => problem !== null && say(problem);
      const { holds, careful } = commandShape(bound.press.command);
      if (careful) {
        const timer = setTimeout(() => {
          held.delete(event.code);
          void control.press(bound.press, 'key').then(tell);
        }, CAREFUL_MS);
        held.set(event.code, () => {
          clearTimeout(timer);
          say(t('keys.holdLonger'));
        });
        return;
      }
      void control.press(bound.press, 'key').then(tell);
      if (holds) held.set(event.code, () => void control.press(bound.press, 'key', false));
    };
    const up = ({ code }: KeyboardEvent) => {
      held.get(code)?.();
      held.delete(code);
    };
    // A window that loses the keyboard gets no key-up: nobody must stay muted by that.
    const away = () => {
      for (const letGo of held.values()) letGo();
      held.clear();
    };
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    window.addEventListener('blur', away);
    return () => {
      away();
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
      window.removeEventListener('blur', away);
    };
  }, [control, desk, store, say, t]);
  return null;
}
