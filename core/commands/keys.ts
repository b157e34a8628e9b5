/** Keys: how they are written, which the studio has of its own, and who gets one that is pressed. */
import { recordsOf, type ShowDocument } from '../show/document';
import { posesOf } from '../show/poses';
import type { Press } from './commands';

/** What of a keyboard's event is looked at (UI Events §6). */
export interface KeyDown {
  code: string;
  ctrlKey: boolean;
  altKey: boolean;
  shiftKey: boolean;
  metaKey: boolean;
}

const MODIFIER = /^(Control|Shift|Alt|Meta|OS)(Left|Right)?$/;

/** A key with its modifiers in the order `Control+Alt+Shift+Meta`; null for a modifier alone. Number pad keys count apart. */
export function keysOf({ code, ctrlKey, altKey, shiftKey, metaKey }: KeyDown): string | null {
  if (code === '' || MODIFIER.test(code)) return null;
  return `${ctrlKey ? 'Control+' : ''}${altKey ? 'Alt+' : ''}${shiftKey ? 'Shift+' : ''}${metaKey ? 'Meta+' : ''}${code}`;
}

const SIGNS: Record<string, string> = {
  Control: 'Ctrl',
  ArrowLeft: '←',
  ArrowRight: '→',
  ArrowUp: '↑',
  ArrowDown: '↓',
  Escape: 'Esc',
  Backquote: '`',
  Minus: '-',
  Equal: '=',
  Comma: ',',
  Period: '.',
  Slash: '/',
  Semicolon: ';',
};
const MAC: Record<string, string> = { Control: '⌃', Alt: '⌥', Shift: '⇧', Meta: '⌘' };

/** A key as people read it: `Shift+Q`, `Num 1`; on a Mac by its signs. */
export function keyWords(keys: string, mac = false): string {
  const parts = keys.split('+').map((part) => {
    if (mac && part in MAC) return MAC[part];
    const letter = /^(?:Key|Digit)(.)$/.exec(part)?.[1];
    if (letter) return letter;
    const pad = /^Numpad(.+)$/.exec(part)?.[1];
    return pad ? `Num ${pad}` : (SIGNS[part] ?? part);
  });
  return parts.join(mac ? '' : '+');
}

/** A letter, digit or sign alone: what WCAG 2.1.4 lets people switch off. */
export const isCharacterKey = (keys: string): boolean =>
  /^(Shift\+)?(Key.|Digit\d|Comma|Period|Slash|Semicolon|Quote|Minus|Equal|Backquote|Bracket\w+|Backslash)$/.test(
    keys,
  );

export interface BoundKey {
  keys: string;
  press: Press;
  /** Where it comes from: the studio itself, a scene's place, a pose, an effect, or a shortcut of the show. */
  by: 'studio' | 'scene' | 'pose' | 'effect' | 'shortcut';
  /** Of the record that has it; null for the studio's own. */
  recordId: string | null;
}

const press = (command: Press['command'], params: Press['params'] = {}): Press => ({ command, params });

/** Keys that every show has, until a shortcut takes one. */
const STUDIO_KEYS: readonly [string, Press][] = [
  ['Enter', press('take')],
  ['Shift+Enter', press('previous')],
  ['KeyB', press('back')],
  ['KeyC', press('cough')],
  ['KeyH', press('hold')],
  ['Shift+KeyH', press('showEdits')],
  ['KeyK', press('keep')],
  ['KeyM', press('marker')],
  ['KeyO', press('onlyVoices')],
  ['KeyT', press('nextTitle')],
  ['Shift+KeyT', press('hideTitle')],
  ['Shift+KeyV', press('cover')],
  ['Shift+Escape', press('emergency')],
];

/** All keys of a show while a scene is on air, first come first served: a show's own shortcuts come before all others. */
export function boundKeys(document: ShowDocument, onAirSceneId: string | null): BoundKey[] {
  const poses = onAirSceneId === null ? [] : posesOf(document, onAirSceneId);
  return [
    ...recordsOf(document, 'shortcut').map(({ id, keys, press }): BoundKey => ({
      keys,
      press,
      by: 'shortcut',
      recordId: id,
    })),
    ...STUDIO_KEYS.map(([keys, press]): BoundKey => ({ keys, press, by: 'studio', recordId: null })),
    ...recordsOf(document, 'scene')
      .slice(0, 9)
      .map(({ id }, i): BoundKey => ({
        keys: `Shift+Digit${i + 1}`,
        press: press('scene', { sceneId: id }),
        by: 'scene',
        recordId: id,
      })),
    ...poses.flatMap(({ id, key }): BoundKey[] =>
      key === ''
        ? []
        : [{ keys: `Digit${key}`, press: press('pose', { poseId: id }), by: 'pose', recordId: id }],
    ),
    ...recordsOf(document, 'effect').flatMap(({ id, key }): BoundKey[] =>
      key === ''
        ? []
        : [
            {
              keys: /\d/.test(key) ? `Alt+Digit${key}` : `Alt+Key${key.toUpperCase()}`,
              press: press('effect', { effectId: id }),
              by: 'effect',
              recordId: id,
            },
          ],
    ),
  ];
}

/** Browsers and the studio's own editing keep these for themselves. */
const TAKEN =
  /^(Control|Meta)\+(Shift\+)?Key[A-Z]$|^(Tab|Shift\+Tab|Space|Escape|F5|F11|F12|Control\+Tab|Arrow\w+)$/;

/**
 * Why a shortcut cannot have a key: what has it already, by record or the studio; null when it can.
 * @param own id of the shortcut that is being changed
 */
export function keyConflict(
  document: ShowDocument,
  keys: string,
  own: string | null,
): { by: 'browser' } | { by: 'bound'; bound: BoundKey } | null {
  if (TAKEN.test(keys)) return { by: 'browser' };
  const bound = boundKeys(document, null).find(
    (one) => one.keys === keys && (own === null || one.recordId !== own),
  );
  return bound ? { by: 'bound', bound } : null;
}
