import { describe, expect, test } from 'vitest';
import { documentOf } from '../show/document';
import type { AnyRecord, EffectRecord, PoseRecord } from '../show/records';
import type { CueRecord, CueStep, ShortcutRecord } from '../show/rundown-records';
import { sampleScene, sampleShow } from '../show/sample-show';
import { pressWords } from './command-words';
import type { Press } from './commands';
import { cueCircle, flatCue } from './cues';
import { boundKeys, isCharacterKey, keyConflict, keysOf, keyWords } from './keys';

const press = (command: Press['command'], params: Press['params'] = {}): Press => ({ command, params });
const cue = (id: string, ...steps: CueStep[]): CueRecord => ({
  ...{ kind: 'cue', id, showId: 'show', name: `Cue ${id}`, position: 0 },
  steps,
});
const shortcut = (id: string, keys: string, of: Press): ShortcutRecord => ({
  ...{ kind: 'shortcut', id, showId: 'show', name: keys, position: 0, keys },
  press: of,
});
describe('every command', () => {
  test('says what it is for, by name', () => {
    const nameOf = (id: string) => (id === 'c' ? 'Night music' : null);
    expect(pressWords(press('mute', { channelId: 'c', on: false }), nameOf)).toBe('Unmute Night music');
    expect(pressWords(press('level', { channelId: 'c', gainDb: -60 }), nameOf)).toBe(
      'Night music to silence',
    );
    expect(pressWords(press('nudge', { channelId: 'c', gainDb: 3 }), nameOf)).toBe('Night music +3 dB');
    expect(pressWords(press('scene', { sceneId: 'gone' }), nameOf)).toBe('Take —');
    expect(pressWords(press('cover'), nameOf)).toBe('Cover');
  });
});

describe('keys', () => {
  const down = (code: string, more = {}) =>
    keysOf({ code, ctrlKey: false, altKey: false, shiftKey: false, metaKey: false, ...more });
  const records: AnyRecord[] = [
    sampleShow,
    sampleScene('a'),
    sampleScene('b', { position: 1 }),
    {
      ...{ kind: 'pose', id: 'p', showId: 'show', name: 'p', position: 0, sceneId: 'a', key: '2' },
    } as PoseRecord,
    { ...{ kind: 'effect', id: 'e', showId: 'show', name: 'e', position: 0, key: 'b' } } as EffectRecord,
  ];
  const document = documentOf(records);
  const calls = (of: typeof document, keys: string, onAir: string | null = 'a') =>
    boundKeys(of, onAir).find((one) => one.keys === keys)?.press;

  test('are written by their place, modifiers in one order, and read as people read them', () => {
    expect(down('KeyQ', { shiftKey: true, altKey: true })).toBe('Alt+Shift+KeyQ');
    expect(down('Numpad1')).toBe('Numpad1');
    expect(down('ShiftLeft', { shiftKey: true })).toBeNull();
    expect(keyWords('Alt+Shift+KeyQ')).toBe('Alt+Shift+Q');
    expect(keyWords('Numpad1')).toBe('Num 1');
    expect(keyWords('Control+Shift+Digit3', true)).toBe('⌃⇧3');
    expect([isCharacterKey('KeyO'), isCharacterKey('Shift+Digit1')]).toEqual([true, true]);
    expect([isCharacterKey('Alt+KeyO'), isCharacterKey('Numpad1'), isCharacterKey('F9')]).toEqual([
      ...[false, false, false],
    ]);
  });
  test('of scenes, poses of the scene on air, and effects', () => {
    expect(calls(document, 'Shift+Digit2')).toEqual(press('scene', { sceneId: 'b' }));
    expect(calls(document, 'Digit2')).toEqual(press('pose', { poseId: 'p' }));
    expect(calls(document, 'Digit2', 'b')).toBeUndefined();
    expect(calls(document, 'Alt+KeyB')).toEqual(press('effect', { effectId: 'e' }));
    expect(calls(document, 'Enter')).toEqual(press('take'));
  });
  test('the show’s own come first, and only a free one can be had', () => {
    const own = documentOf([...records, shortcut('k', 'KeyM', press('emergency'))]);
    expect(calls(own, 'KeyM')).toEqual(press('emergency'));
    expect(keyConflict(own, 'KeyM', null)).toMatchObject({ by: 'bound', bound: { recordId: 'k' } });
    expect(keyConflict(document, 'KeyM', null)).toMatchObject({ by: 'bound', bound: { by: 'studio' } });
    expect(keyConflict(document, 'Control+KeyT', null)).toEqual({ by: 'browser' });
    expect(keyConflict(document, 'Numpad7', null)).toBeNull();
    expect(keyConflict(documentOf([...records, shortcut('k', 'F9', press('take'))]), 'F9', 'k')).toBeNull();
  });
});

describe('cues', () => {
  const wait: CueStep = { type: 'wait', seconds: 1 };
  const call = (cueId: string): CueStep => ({ type: 'cue', cueId });
  const marker: CueStep = { type: 'press', press: press('marker') };
  test('are laid out flat; what is gone is passed over', () => {
    const inner = cue('b', marker, wait);
    const outer = cue('a', call('b'), call('gone'), { type: 'press', press: press('cue', { cueId: 'b' }) });
    expect(flatCue(documentOf([inner, outer]), outer)).toEqual([marker, wait, marker, wait]);
  });
  test('one that calls itself, directly or by others, is told with the way round', () => {
    const self = cue('a', call('a'));
    expect(cueCircle(documentOf([self]), self)).toEqual(['Cue a', 'Cue a']);
    const [a, b, c] = [
      cue('a', call('b')),
      cue('b', { type: 'press', press: press('cue', { cueId: 'c' }) }),
      cue('c', call('a')),
    ];
    expect(cueCircle(documentOf([a, b, c]), a)).toEqual(['Cue a', 'Cue b', 'Cue c', 'Cue a']);
    expect(flatCue(documentOf([a, b, c]), a)).toBeNull();
    // Called twice is no circle.
    expect(
      cueCircle(documentOf([cue('d', call('e'), call('e')), cue('e', wait)]), cue('d', call('e'), call('e'))),
    ).toBeNull();
  });
  test('one that would be endless by doubling is refused', () => {
    const levels = Array.from({ length: 12 }, (_, i) => cue(`l${i}`, call(`l${i + 1}`), call(`l${i + 1}`)));
    const document = documentOf([...levels, cue('l12', marker)]);
    expect(flatCue(document, levels[0])).toBeNull();
  });
});
