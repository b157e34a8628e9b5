import { useHotkeys } from 'react-hotkeys-hook';
import { recordsOf } from '~/core/show/document';
import { useStudio } from './studio-context';

/** Keys that hold everywhere in the studio. They do nothing while somebody types. */
export function ShortcutKeys() {
  const { store, take } = useStudio();
  useHotkeys('mod+z', () => void store.undo(), { preventDefault: true });
  useHotkeys('mod+shift+z, mod+y', () => void store.redo(), { preventDefault: true });
  useHotkeys('shift+1,shift+2,shift+3,shift+4,shift+5,shift+6,shift+7,shift+8,shift+9', (event) => {
    const scene = recordsOf(store.document(), 'scene')[Number(event.code.slice(-1)) - 1];
    if (scene) take(scene.id);
  });
  return null;
}
