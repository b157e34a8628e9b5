/** What the Stage costs: draw lists, edits in a large show, undo memory, and the compositor beside a plain copy. */
import path from 'node:path';
import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import type { Browser } from 'playwright-core';
import { buildDrawList } from '../../core/scene/draw-list';
import {
  applyEdit,
  changesBetween,
  documentOf,
  type Edit,
  type ShowDocument,
} from '../../core/show/document';
import { History, type Step } from '../../core/show/history';
import { layersOfScene } from '../../core/show/layers';
import type { AnyRecord, LayerRecord } from '../../core/show/records';
import { sampleInput, sampleLayer, sampleScene, sampleShow } from '../../core/show/sample-show';
import type { GivenPicture } from '../../tests/lib/compositor-harness';
import { harnessPage, type Harness } from '../../tests/lib/harness-page';

declare const globalThis: { harness: Harness };

type Say = (line: object) => void;

/** Layers of a scene: pictures and boxes spread over both frames, partly clear so that none hides another. */
function layers(sceneId: string, count: number): LayerRecord[] {
  return Array.from({ length: count }, (_, i) =>
    sampleLayer(`${sceneId}-${i}`, sceneId, i, {
      content:
        i % 2 === 0
          ? { type: 'input', inputId: i % 4 === 0 ? 'still' : 'logo', fit: 'fill' }
          : { type: 'shape', shape: 'rectangle', colour: '#26324fb0' },
      wide: { cx: (i * 211) % 1920, cy: (i * 97) % 1080, width: 420, height: 260, opacity: 0.9 },
      tall: { cx: (i * 131) % 1080, cy: (i * 173) % 1920, width: 380, height: 300, opacity: 0.9 },
    }),
  );
}

const base: AnyRecord[] = [
  sampleShow,
  sampleInput('still', { source: { type: 'picture', assetId: 'a', loop: true } }),
  sampleInput('logo', { position: 1, source: { type: 'picture', assetId: 'b', loop: true } }),
];

/** Median milliseconds of many runs, the first ones left out: they are for the compiler. */
function median(run: (i: number) => void, before: (i: number) => void = () => {}, count = 400): number {
  const times: number[] = [];
  for (let i = 0; i < count + 100; i++) {
    before(i);
    const start = performance.now();
    run(i);
    if (i >= 100) times.push(performance.now() - start);
  }
  return times.sort((a, b) => a - b)[count >> 1];
}

function drawLists(say: Say): void {
  const document = documentOf([...base, sampleScene('a'), ...layers('a', 30)]);
  let moved: ShowDocument = document;
  const next = (i: number) => {
    // A new document each time, as in a drag: nothing that was found in the last one helps.
    const layer = moved.get('a-7') as LayerRecord;
    moved = applyEdit(moved, { id: 'e', name: '', put: [{ ...layer, name: `n${i}` }], removed: [] }).document;
  };
  const value = median(() => {
    buildDrawList(moved, 'a', 'wide', { width: 960, height: 540 });
    buildDrawList(moved, 'a', 'tall', { width: 360, height: 640 });
  }, next);
  say({
    name: 'stage: draw lists of 30 layers in 2 frames, after an edit',
    value,
    unit: 'ms',
    reference: 0.2,
    ratio: value / 0.2,
    goal: '< 1',
  });
}

function largeShow(): ShowDocument {
  const scenes = Array.from({ length: 20 }, (_, i) => sampleScene(`s${i}`, { position: i }));
  return documentOf([...base, ...scenes, ...scenes.flatMap((s) => layers(s.id, 10))]);
}

function edits(say: Say): void {
  let document = largeShow();
  const value = median((i) => {
    const layer = document.get('s3-4') as LayerRecord;
    const next = applyEdit(document, {
      id: 'e',
      name: '',
      put: [{ ...layer, placements: { ...layer.placements, wide: { ...layer.placements.wide!, cx: i } } }],
      removed: [],
    }).document;
    changesBetween(document, next);
    layersOfScene(next, 's3');
    document = next;
  });
  say({
    name: 'stage: one edit in a show of 200 layers, page side',
    value,
    unit: 'ms',
    reference: 50,
    ratio: value / 50,
    goal: '< 1 (a long task)',
  });
}

function undoMemory(say: Say): void {
  setFlagsFromString('--expose-gc');
  const collect = runInNewContext('gc') as () => void;
  const history = new History();
  let document = largeShow();
  collect();
  const before = process.memoryUsage().heapUsed;
  const apply = (edit: Edit): Step => {
    const result = applyEdit(document, edit);
    document = result.document;
    return { ...result.inverse, seen: result.inverse.put.flatMap((r) => document.get(r.id) ?? []) };
  };
  for (let i = 0; i < 1000; i++) {
    // Every tenth step moves ten layers at once.
    const put = Array.from({ length: i % 10 === 0 ? 10 : 1 }, (_, n) => {
      const layer = document.get(`s${i % 20}-${(i + n) % 10}`) as LayerRecord;
      return { ...layer, placements: { ...layer.placements, wide: { ...layer.placements.wide!, cx: i } } };
    });
    history.record(apply({ id: `e${i}`, name: `Move ${i}`, put, removed: [] }));
  }
  collect();
  const mb = (process.memoryUsage().heapUsed - before) / 1024 / 1024;
  // Used afterwards, so that it is not collected before it is measured.
  if (history.steps().done !== 1000) throw new Error('the history lost steps');
  say({
    name: 'stage: memory of 1,000 undo steps, 200 layers',
    value: mb,
    unit: 'MB',
    reference: 20,
    ratio: mb / 20,
    goal: '< 1',
  });
}

const picture = (changes: boolean): GivenPicture => ({
  width: 64,
  height: 36,
  rgba: Array.from({ length: 64 * 36 }, (_, i) => [(i * 7) % 256, (i * 13) % 256, 90, 255]).flat(),
  changes,
});

async function compositor(say: Say, browser: Browser): Promise<void> {
  const page = await harnessPage(browser, path.resolve('tests/lib'));
  const [width, height] = [1280, 720];
  const copy = await page.evaluate(([w, h]) => globalThis.harness.timeCopy(w, h, 200), [
    width,
    height,
  ] as const);
  const time = (
    records: AnyRecord[],
    pictures: Record<string, GivenPicture>,
    frames: { frame: 'wide' | 'tall'; width: number; height: number }[],
  ) =>
    page.evaluate(([all, given, targets]) => globalThis.harness.time(all, given, 'a', targets, 150), [
      records,
      pictures,
      frames,
    ] as const);
  const wide = { frame: 'wide', width, height } as const;
  const stills = { still: picture(false), logo: picture(false) };
  const scene = [...base, sampleScene('a'), ...layers('a', 30)];
  const still = await time(scene, stills, [wide]);
  say({
    name: 'stage: 30 layers whose inputs do not change, 1280x720',
    value: still,
    unit: 'ms a picture',
    reference: copy,
    ratio: still / copy,
    against: 'one full-frame copy',
    goal: '< 1.3',
  });
  const live = [
    ...scene,
    sampleInput('live', { position: 3, source: { type: 'picture', assetId: 'c', loop: true } }),
    sampleLayer('top', 'a', 99, {
      content: { type: 'input', inputId: 'live', fit: 'fill' },
      wide: { width: 480, height: 270, cx: 300, cy: 800 },
      tall: { width: 480, height: 270, cx: 300, cy: 800 },
    }),
  ];
  const mixed = await time(live, { ...stills, live: picture(true) }, [wide]);
  say({
    name: 'stage: the same below one picture that moves',
    value: mixed,
    unit: 'ms a picture',
    reference: copy,
    ratio: mixed / copy,
    against: 'one full-frame copy',
  });
  // The game fills both frames, the host stands over it: the demonstration's commonest scene.
  const game = [
    sampleShow,
    sampleInput('game', { source: { type: 'simulated', picture: 'switchback' } }),
    sampleInput('host', { position: 1 }),
    sampleScene('a'),
    sampleLayer('g', 'a', 0, {
      content: { type: 'input', inputId: 'game', fit: 'fill' },
      tall: { cy: 1120, height: 960 },
    }),
    sampleLayer('h', 'a', 1, {
      content: { type: 'input', inputId: 'host', fit: 'fill' },
      wide: { cx: 330, cy: 870, width: 540, height: 320 },
      tall: { cy: 320, height: 640 },
    }),
  ];
  const frames = [
    { frame: 'wide', width: 640, height: 360 },
    { frame: 'tall', width: 360, height: 640 },
  ] as const;
  const alone = [await time(game, {}, [frames[0]]), await time(game, {}, [frames[1]])];
  const both = await time(game, {}, [...frames]);
  const one = (alone[0] + alone[1]) / 2;
  say({
    name: 'stage: two frames of the game scene, 640x360 and 360x640',
    value: both,
    unit: 'ms a picture',
    reference: one,
    ratio: both / one,
    against: `one frame, the mean of wide alone (${alone[0].toFixed(2)}) and tall alone (${alone[1].toFixed(2)})`,
    goal: '< 2',
  });
  await page.close();
}

export async function stageSpeed(say: Say, browser: Browser): Promise<void> {
  drawLists(say);
  edits(say);
  undoMemory(say);
  await compositor(say, browser);
}
