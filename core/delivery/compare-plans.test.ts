import { expect, test } from 'vitest';
import { documentOf } from '../show/document';
import type { AnyRecord, PlanRecord } from '../show/records';
import { sampleDestination, sampleShow } from '../show/sample-show';
import { comparePlans } from './compare-plans';
import { PLAIN_PLAN } from './settings';

const plan = (id: string, more: Partial<PlanRecord> = {}): PlanRecord => ({
  ...{ kind: 'plan', id, showId: 's', name: id, position: 0 },
  ...PLAIN_PLAN,
  frames: { wide: { width: 1280, height: 720, videoKbps: 3000 } },
  ...more,
});
const rows = (plans: PlanRecord[], ...more: AnyRecord[]) => {
  const document = documentOf([sampleShow, ...plans, sampleDestination('Larch'), ...more]);
  return new Map(comparePlans(document, plans).map((r) => [r.name, r]));
};

test('what differs is marked, what is alike is not', () => {
  const small = plan('small', {
    frames: { wide: { width: 640, height: 360, videoKbps: 1000 } },
    lineKbps: 2000,
    adaptive: false,
  });
  const by = rows([plan('large', { lineKbps: 2000 }), small]);
  expect(by.get('Wide picture')).toEqual({
    name: 'Wide picture',
    values: ['1280×720 at 30', '640×360 at 30'],
    differs: true,
  });
  expect(by.get('Tall picture')).toMatchObject({ values: ['—', '—'], differs: false });
  expect(by.get('Sound, kbps')!.differs).toBe(false);
  expect(by.get('Upload, Mbps')!.values).toEqual(['3.1 of 2.0', '1.1 of 2.0']);
  expect(by.get('Practice says')!.values[0]).toContain('more than the connection carries');
  expect(by.get('Practice says')!.values[1]).toBe('fine');
  expect(by.get('Adaptive bitrate')!.values).toEqual(['on', 'off']);
  const [large, little] = by.get('Lines that carry it')!.values.map((v) => Number.parseInt(v));
  expect(little).toBeGreaterThan(large);
});

test('what the server encodes counts for the line and not for the desk; no frame at all is no trouble', () => {
  const by = rows(
    [plan('a'), plan('empty', { frames: {} })],
    sampleDestination('Marmot', { ownKbps: 800, encodedBy: 'server' }),
  );
  expect(by.get('Encodes here')!.values).toEqual(['1, 1 on the server', '0']);
  expect(by.get('Upload, Mbps')!.values).toEqual(['4.1', '0.0']);
  expect(by.get('How it looks')!.values[1]).toBe('—');
});
