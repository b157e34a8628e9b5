import { describe, expect, test } from 'vitest';
import { intersects, rectOfPlacement } from '../geometry/rect';
import { fellLines } from '../kits/fell-lines';
import { documentOf, recordsOf } from '../show/document';
import { sampleInput, sampleShow } from '../show/sample-show';
import { previewed } from './preview';
import { documentWith } from './take-over';

describe('a preview of parts', () => {
  const show = documentOf([sampleShow]);

  test('opens no device and no address', () => {
    const inputs = [
      sampleInput('cam', {
        source: {
          ...{ type: 'camera', deviceId: 'd', deviceLabel: 'Desk', width: 640, height: 360, fps: 30 },
          ...{ controls: {}, deinterlace: false },
        },
      }),
      sampleInput('game', { source: { type: 'screen', surface: 'window' } }),
      sampleInput('feed', { source: { type: 'feed', way: 'sent' } }),
      sampleInput('page', {
        source: { type: 'page', width: 1280, height: 720, fps: 10, allowed: [] },
      }),
      sampleInput('ground', { source: { type: 'background', look: 'plain', colour: '#112233' } }),
    ];
    const document = previewed(documentOf([sampleShow, ...inputs]));
    const sources = recordsOf(document, 'input').map(({ source }) => source.type);
    expect(sources).toEqual(['simulated', 'simulated', 'simulated', 'background', 'background']);
    // Only what is seen is opened.
    expect(recordsOf(document, 'input').some(({ keepReady }) => keepReady)).toBe(false);
    expect(recordsOf(document, 'layer')).toEqual([]);
  });

  test('its alerts have a place in both frames, where the parts bring none', () => {
    const parts = documentWith(fellLines(), show);
    const document = previewed(parts);
    const added = recordsOf(document, 'layer').filter(({ content }) => content.type === 'alert');
    expect(added).toHaveLength(1);
    expect(added[0].sceneId).toBeNull();
    const [{ frames }] = recordsOf(document, 'show');
    for (const frame of ['wide', 'tall'] as const) {
      const place = added[0].placements[frame]!;
      const rect = rectOfPlacement(place);
      expect([rect.x, rect.y].every((v) => v > 0)).toBe(true);
      expect(rect.y + rect.height).toBeLessThan(frames[frame].height);
      // Over no heading: those are at the top of every scene of this kit.
      for (const { name, placements } of recordsOf(parts, 'layer'))
        if (name === 'Title')
          expect(placements[frame] && intersects(rectOfPlacement(placements[frame]), rect), name).not.toBe(
            true,
          );
    }
    // There already: nothing is added.
    expect(previewed(document).size).toBe(document.size);
  });
});
