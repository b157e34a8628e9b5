import { describe, expect, it } from 'vitest';
import { encodesInUse } from '../delivery/live-plan';
import { intersects, rectOfPlacement } from '../geometry/rect';
import { changesApplied, documentOf, findRecord, recordsOf, type ShowDocument } from './document';
import {
  ALSO_SHOWN,
  blankShow,
  chooseCamera,
  chooseMicrophone,
  chooseShown,
  firstCamera,
  firstDestination,
  firstScreen,
  firstShow,
  firstVoice,
  type Changes,
} from './new-show';
import { FRAME_NAMES, type LayerRecord } from './records';
import { settle } from './settle';

let ids = 0;
const newId = () => `id-${++ids}`;
const first = () => documentOf(firstShow('s', 'Night school', 'lampwright', newId));
const apply = (document: ShowDocument, { put, removed }: Changes) =>
  settle(document, { id: newId(), name: 'x', put, removed }, []).document;
const sceneNames = (document: ShowDocument) => recordsOf(document, 'scene').map(({ name }) => name);
const CAMERA = { deviceId: 'cam', deviceLabel: 'Webcam' };

describe('a first show', () => {
  it('stands by itself: every record can be put, everything it points at is there', () => {
    for (const records of [firstShow('s', 'Night school', '', newId), blankShow('s', 'Blank', newId)])
      expect(settle(documentOf([]), { id: 'e', name: '', put: records, removed: [] }, []).document.size).toBe(
        records.length,
      );
  });

  it('has scenes to wait in, to talk in and for breaks, in both frames, and something to send', () => {
    const document = first();
    expect(sceneNames(document)).toEqual(['Starting soon', 'Talk', 'Break']);
    for (const layer of recordsOf(document, 'layer'))
      expect(Object.keys(layer.placements), layer.name).toEqual([...FRAME_NAMES]);
    expect(encodesInUse(document).map(({ frame }) => frame)).toEqual(['wide']);
    expect(recordsOf(document, 'show')[0].fields).toEqual({ host: 'lampwright', title: 'Night school' });
  });

  it.each(ALSO_SHOWN)(
    'with %s beside the host: alerts cover no chat, no name and no small camera',
    (shown) => {
      const base = first();
      const document = apply(base, chooseShown(base, 'nothing', newId));
      const whole = apply(document, chooseShown(document, shown, newId));
      const alerts = recordsOf(whole, 'layer').find(({ content }) => content.type === 'alert')!;
      const camera = firstCamera(whole)!;
      for (const layer of recordsOf(whole, 'layer')) {
        const small =
          layer.content.type === 'input' &&
          layer.content.inputId === camera.id &&
          (layer.placements.wide?.width ?? 0) < 1900;
        if (!small && layer.content.type !== 'chatPanel' && layer.name !== 'Name') continue;
        for (const frame of FRAME_NAMES) {
          const [a, b] = [alerts.placements[frame]!, layer.placements[frame]!].map(rectOfPlacement);
          // A chat panel in Tall gives way at its upper edge in scenes with a screen: a third of an alert at most.
          const over = intersects(a, b) ? overlapShare(a, b) : 0;
          expect(over, `${layer.name} in ${frame}`).toBeLessThan(0.34);
        }
      }
    },
  );
});

function overlapShare(a: ReturnType<typeof rectOfPlacement>, b: typeof a): number {
  const width = Math.min(a.x + a.width, b.x + b.width) - Math.max(a.x, b.x);
  const height = Math.min(a.y + a.height, b.y + b.height) - Math.max(a.y, b.y);
  return (width * height) / (a.width * a.height);
}

describe('its camera', () => {
  it('becomes another one, goes away with its layers, and comes back behind the words', () => {
    const base = first();
    let document = apply(base, chooseCamera(base, CAMERA, newId));
    expect(firstCamera(document)?.source).toMatchObject({ ...CAMERA, width: 1280 });
    document = apply(document, chooseShown(document, 'game', newId));
    document = apply(document, chooseCamera(document, null, newId));
    expect(firstCamera(document)).toBeNull();
    document = apply(document, chooseCamera(document, CAMERA, newId));
    const camera = firstCamera(document)!;
    const shownIn = recordsOf(document, 'layer').filter(
      ({ content }) => content.type === 'input' && content.inputId === camera.id,
    );
    const sceneOf = (layer: LayerRecord) => findRecord(document, 'scene', layer.sceneId)!.name;
    expect(shownIn.map(sceneOf).sort()).toEqual(['Game', 'Talk']);
    const inScene = (name: string) =>
      recordsOf(document, 'layer').filter((l) => l.sceneId !== null && sceneOf(l) === name);
    expect(inScene('Talk')[0].name).toBe('Camera');
    expect(inScene('Game').at(-1)!.placements.wide!.width).toBeLessThan(960);
  });
});

describe('what is shown beside the host', () => {
  it('has a scene between talk and break, and sound that gives way to the voice', () => {
    const base = first();
    const document = apply(base, chooseShown(base, 'game', newId));
    expect(sceneNames(document)).toEqual(['Starting soon', 'Talk', 'Game', 'Break']);
    const channel = recordsOf(document, 'channel').find(({ source }) => source.type === 'input')!;
    expect(channel.ducking?.byChannelId).toBe(firstVoice(document)!.id);
    expect(channel.pictureInputId).toBe(firstScreen(document)!.id);
  });

  it('is changed and taken away again without a trace', () => {
    const before = first();
    let document = apply(before, chooseShown(before, 'game', newId));
    document = apply(document, chooseShown(document, 'screen', newId));
    expect(sceneNames(document)).toEqual(['Starting soon', 'Talk', 'Screen', 'Break']);
    document = apply(document, chooseShown(document, 'nothing', newId));
    expect(new Set(document.keys())).toEqual(new Set(before.keys()));
  });
});

describe('its voice', () => {
  it('goes and comes back with a voice chain; what gave way to it does so again', () => {
    const base = first();
    let document = apply(base, chooseShown(base, 'screen', newId));
    document = apply(document, chooseMicrophone(document, null, newId));
    expect(firstVoice(document)).toBeNull();
    document = apply(document, chooseMicrophone(document, { deviceId: 'm', deviceLabel: 'Headset' }, newId));
    const voice = firstVoice(document)!;
    expect(voice).toMatchObject({ role: 'voice', source: { deviceId: 'm' } });
    expect(voice.chain.processors.length).toBeGreaterThan(3);
    const screen = recordsOf(document, 'channel').find(({ source }) => source.type === 'input')!;
    expect(screen.ducking?.byChannelId).toBe(voice.id);
  });
});

describe('where to', () => {
  it('keeps a key that was pasted with the address apart from it, and one destination however often it is entered', () => {
    const entered = {
      name: 'Larch',
      title: 'First night',
      url: 'rtmp://ingest.example/live/larch_4711_abcdef',
    };
    const once = firstDestination(first(), entered, newId);
    expect(once).toMatchObject({
      key: 'larch_4711_abcdef',
      destination: { url: 'rtmp://ingest.example/live', enabled: true, details: { title: 'First night' } },
    });
    const document = changesApplied(first(), [once.destination], []);
    const again = firstDestination(document, { ...entered, url: 'rtmp://ingest.example/live' }, newId);
    expect([again.key, again.destination.id]).toEqual([null, once.destination.id]);
  });
});
