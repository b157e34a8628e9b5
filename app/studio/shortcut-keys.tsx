import { useEffect } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { recordsOf } from '~/core/show/document';
import { posesOf } from '~/core/show/poses';
import { useBroadcastActions } from '../delivery/broadcast-actions';
import { useStudio } from './studio-context';

/** Keys that poses may have. */
const POSE_KEYS = '1,2,3,4,5,6,7,8,9';

/** Keys that hold everywhere in the studio. They do nothing while somebody types. */
export function ShortcutKeys() {
  const { store, take, takePose, desk, bus } = useStudio();
  const actions = useBroadcastActions();
  useHotkeys('mod+z', () => void store.undo(), { preventDefault: true });
  useHotkeys('mod+shift+z, mod+y', () => void store.redo(), { preventDefault: true });
  useHotkeys('shift+1,shift+2,shift+3,shift+4,shift+5,shift+6,shift+7,shift+8,shift+9', (event) => {
    const scene = recordsOf(store.document(), 'scene')[Number(event.code.slice(-1)) - 1];
    if (scene) take(scene.id);
  });
  useHotkeys(POSE_KEYS, (event) => {
    const { onAirSceneId } = desk.snapshot();
    if (!onAirSceneId || event.repeat) return;
    const key = event.code.slice(-1);
    const pose = posesOf(store.document(), onAirSceneId).find((p) => p.key === key);
    if (pose) takePose(pose);
  });
  useHotkeys('k', () => void actions.keep());
  useHotkeys('m', () => void actions.mark(''));
  useHotkeys('shift+v', () => void actions.cover(!(bus.snapshot().relay?.session?.coverHeld ?? false)));
  // Any letter or digit with Alt plays the effect that has it; C held is the cough button.
  useEffect(() => {
    const typing = (event: KeyboardEvent) =>
      event.target instanceof HTMLElement &&
      (event.target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(event.target.tagName));
    const down = (event: KeyboardEvent) => {
      if (event.repeat || typing(event) || event.ctrlKey || event.metaKey) return;
      const key = /^(Key|Digit)(.)$/.exec(event.code)?.[2].toLowerCase();
      if (event.altKey && key) {
        const effect = recordsOf(store.document(), 'effect').find((e) => e.key === key);
        if (!effect) return;
        event.preventDefault();
        desk.sound.playEffect(effect);
      } else if (key === 'c' && !event.altKey && !event.shiftKey) desk.sound.setSwitches({ coughing: true });
    };
    const up = (event: KeyboardEvent) => {
      if (event.code === 'KeyC' && desk.sound.switches.coughing) desk.sound.setSwitches({ coughing: false });
    };
    // A window that loses the keyboard gets no key-up: nobody must stay muted by that.
    const away = () => desk.sound.switches.coughing && desk.sound.setSwitches({ coughing: false });
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    window.addEventListener('blur', away);
    return () => {
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
      window.removeEventListener('blur', away);
    };
  }, [desk, store]);
  return null;
}
