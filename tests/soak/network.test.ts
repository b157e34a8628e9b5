/** The network changes under a running broadcast: another address, a pulled cable. On a host of its own, made of a namespace. */
import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { analyse, decodesCleanly } from '../../scripts/lib/analyse.mjs';
import { NetNamespace } from '../lib/net-namespace';
import { NginxRtmp } from '../lib/nginx-rtmp';
import { eventually, FakeDesk, RelayProcess } from '../lib/relay-process';
import { makeSampleStream, type SampleStream } from '../lib/sample-stream';
import { pause } from '../lib/waits';

/** A minute in `npm run soak`. */
const OUTAGE_SECONDS = process.env.DOLOMITE_SOAK ? 60 : 7;

describe.skipIf(!NetNamespace.possible)('a destination on another host', () => {
  let sample: SampleStream;
  let far: NetNamespace;
  let away: NginxRtmp;
  let here: NginxRtmp;
  let relay: RelayProcess;
  let desk: FakeDesk;
  let playing: Promise<void>;
  let folder: string;

  const of = async (id: string) => (await relay.status()).destinations.find((d) => d.id === id)!;
  const arrives = async (id: string) => {
    const { framesSent } = await of(id);
    await eventually(async () => (await of(id)).framesSent > framesSent + 30, 10_000);
  };

  beforeAll(async () => {
    sample = await makeSampleStream(OUTAGE_SECONDS + 40);
    far = new NetNamespace(7);
    away = await NginxRtmp.start(far);
    here = await NginxRtmp.start();
  });
  afterAll(async () => {
    await here.stop();
    await away.stop();
    far.remove();
  });
  beforeEach(async () => {
    folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-network-'));
    relay = await RelayProcess.start();
    desk = new FakeDesk(
      relay,
      await relay.begin({
        recordingFolder: folder,
        destinations: [
          { id: 'far', name: 'Far', frame: 'wide', url: away.url, key: `far-${crypto.randomUUID()}` },
          { id: 'near', name: 'Near', frame: 'wide', url: here.url, key: `near-${crypto.randomUUID()}` },
        ],
      }),
    );
    await desk.welcome();
    for (const config of sample.configs) desk.send(config);
    playing = desk.play(sample);
    await eventually(async () => (await relay.status()).destinations.every((d) => d.framesSent > 30));
  });
  afterEach(async () => {
    desk.socket.close();
    await playing;
    await relay.order('POST', '/end', {});
    const [file] = readdirSync(folder);
    expect(analyse(path.join(folder, file)).stampsRise).toBe(true);
    expect(decodesCleanly(path.join(folder, file))).toEqual({ clean: true, complaints: '' });
    await relay.stop();
    rmSync(folder, { recursive: true, force: true });
  });

  test('another address: it is found at once, and it goes on as soon as the server lets go of the old connection', async () => {
    far.changeAddress();
    await eventually(async () => (await of('far')).state === 'unreachable', 3000);
    // nginx takes no second publisher of a key until it drops an idle one: after 5 s as it is set up here.
    await eventually(async () => (await of('far')).reconnects === 1, 15_000);
    await arrives('far');
    expect(await of('near')).toMatchObject({ state: 'live', framesDropped: 0, reconnects: 0 });
  });

  test(`${OUTAGE_SECONDS} s without a network: it is said, and it goes on within seconds of its return`, async () => {
    far.plug(false);
    await eventually(async () => /has taken nothing|next try/.test((await of('far')).message), 15_000);
    await pause(OUTAGE_SECONDS * 1000 - 5000);
    far.plug(true);
    const from = Date.now();
    const { framesSent } = await of('far');
    await eventually(async () => {
      const { state, framesSent: now } = await of('far');
      return state === 'live' && now > framesSent + 30;
    });
    expect(Date.now() - from).toBeLessThan(11_000);
    expect(await of('near')).toMatchObject({ state: 'live', framesDropped: 0, reconnects: 0 });
  });
});
