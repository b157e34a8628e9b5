import { describe, expect, test } from 'vitest';
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
      sampleInput('ground', { source: { type: 'background', look: 'plain', colour: '#112233' } }),
    ];
    const document = previewed(documentOf([sampleShow, ...inputs]));
    const sources = recordsOf(document, 'input').map(({ source }) => source.type);
    expect(sources).toEqual(['simulated', 'simulated', 'simulated', 'background']);
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
      const { cx, cy, width, height } = added[0].placements[frame]!;
      expect(cx - width / 2).toBeGreaterThan(0);
      expect(cy - height / 2).toBeGreaterThan(0);
      expect(cy + height / 2).toBeLessThan(frames[frame].height / 2);
    }
    // There already: nothing is added.
    expect(previewed(document).size).toBe(document.size);
  });
});
