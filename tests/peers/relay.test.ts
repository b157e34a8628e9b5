/** The real relay against servers we did not write: nginx with its RTMP module, node-media-server; judged by ffprobe. */
import { spawn, spawnSync } from 'node:child_process';
import { chmodSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import net from 'node:net';
import os from 'node:os';
import path from 'node:path';
import tls from 'node:tls';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { analyse, decodesCleanly } from '../../scripts/lib/analyse.mjs';
import { freePort } from '../../scripts/lib/studio.mjs';
import { encodeAmf0 } from '../../core/media/amf0';
import { chunkMessage, MESSAGE } from '../../core/media/rtmp-chunks';
import { startIngest } from '../../standins/platforms/ingest';
import { NginxRtmp } from '../lib/nginx-rtmp';
import { pull } from '../lib/pull';
import { eventually, FakeDesk, RelayProcess } from '../lib/relay-process';
import { makeSampleStream, type SampleStream } from '../lib/sample-stream';
import { pause } from '../lib/waits';

let sample: SampleStream;
let folder: string;
let relay: RelayProcess;

beforeAll(async () => {
  sample = await makeSampleStream(12);
});
beforeEach(async () => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-relay-'));
  relay = await RelayProcess.start();
});
afterEach(async () => {
  await relay.stop();
  rmSync(folder, { recursive: true, force: true });
});

async function openDesk(order: Parameters<RelayProcess['begin']>[0], source?: string): Promise<FakeDesk> {
  const desk = new FakeDesk(relay, await relay.begin(order), source);
  await desk.welcome();
  for (const config of sample.configs) desk.send(config);
  return desk;
}

function judge(file: string): void {
  const result = analyse(file);
  expect(result.video).toMatchObject({ codec: 'h264', width: 320, height: 180 });
  expect(result.audio).toMatchObject({ codec: 'aac', sampleRate: 48_000, channels: 2 });
  expect(result.stampsRise).toBe(true);
  expect(result.keyframePictures.length).toBeGreaterThan(0);
  for (const pictures of result.keyframePictures) expect(pictures).toBe(60);
  expect(Math.abs(result.fps - 30)).toBeLessThan(0.3);
}

describe('nginx with its RTMP module', () => {
  let nginx: NginxRtmp;
  beforeAll(async () => {
    nginx = await NginxRtmp.start();
  });
  afterAll(() => nginx.stop());

  test('takes the broadcast; what a player pulls is whole, and so is the recording', async () => {
    const desk = await openDesk({
      destinations: [{ id: 'n', name: 'Nginx', frame: 'wide', url: nginx.url, key: 'night' }],
      recordingFolder: folder,
    });
    const pulled = path.join(folder, 'pulled.flv');
    const playing = desk.play(sample);
    await eventually(async () => (await relay.status()).destinations[0].state === 'live');
    const viewer = pull(`${nginx.url}/night`, pulled, 5);
    await playing;
    await viewer;
    const status = await relay.status();
    expect(status.destinations[0]).toMatchObject({ state: 'live', framesDropped: 0, reconnects: 0 });
    await desk.until((d) => d.said.some((m) => m.type === 'ack' && m.sequence === d.sequence));
    judge(pulled);
    await relay.order('POST', '/end', {});
    const [file] = readdirSync(folder).filter((n) => n.endsWith('.mkv'));
    judge(path.join(folder, file));
    expect(decodesCleanly(path.join(folder, file))).toEqual({ clean: true, complaints: '' });
  });

  test('both frames go their own ways with the same sound, each into a file of its own', async () => {
    const desk = await openDesk({
      destinations: [
        { id: 'w', name: 'Wide', frame: 'wide', url: nginx.url, key: 'wide' },
        { id: 't', name: 'Tall', frame: 'tall', url: nginx.url, key: 'tall' },
      ],
      recordingFolder: folder,
    });
    for (const config of sample.configs)
      if (config.track === 'video') desk.send({ ...config, encode: 'tall' });
    const playing = desk.play(sample, { frames: ['wide', 'tall'] });
    await eventually(async () => (await relay.status()).destinations.every((d) => d.state === 'live'));
    const files = ['wide', 'tall'].map((name) => path.join(folder, `pulled-${name}.flv`));
    const viewers = Promise.all([
      pull(`${nginx.url}/wide`, files[0], 5),
      pull(`${nginx.url}/tall`, files[1], 5),
    ]);
    await playing;
    await viewers;
    const { destinations } = await relay.status();
    expect(destinations.map((d) => [d.name, d.frame, d.framesDropped])).toEqual([
      ['Wide', 'wide', 0],
      ['Tall', 'tall', 0],
    ]);
    for (const file of files) judge(file);
    await relay.order('POST', '/end', {});
    const recordings = readdirSync(folder).filter((n) => n.endsWith('.mkv'));
    expect(recordings.filter((n) => n.includes('-tall'))).toHaveLength(1);
    expect(recordings).toHaveLength(2);
    for (const file of recordings) judge(path.join(folder, file));
  });

  test('takes it over TLS as well, and a certificate nobody vouches for is refused', async () => {
    const key = path.join(folder, 'key.pem');
    const cert = path.join(folder, 'cert.pem');
    const made = spawnSync('openssl', [
      ...['req', '-x509', '-newkey', 'rsa:2048', '-nodes', '-days', '1', '-subj', '/CN=localhost'],
      ...['-addext', 'subjectAltName=DNS:localhost', '-keyout', key, '-out', cert],
    ]);
    expect(made.status).toBe(0);
    const front = tls.createServer({ key: readFileSync(key), cert: readFileSync(cert) }, (client) => {
      const target = net.connect(nginx.port, '127.0.0.1');
      client.pipe(target).pipe(client);
      for (const socket of [client, target]) socket.on('error', () => undefined);
    });
    front.on('tlsClientError', () => undefined);
    const port = await freePort();
    front.listen(port, '127.0.0.1');
    const destination = {
      id: 't',
      name: 'TLS',
      frame: 'wide' as const,
      url: `rtmps://localhost:${port}/live`,
      key: 'tls',
    };
    const stranger = await openDesk({ destinations: [destination] });
    await eventually(async () => (await relay.status()).destinations[0].state === 'unreachable');
    expect((await relay.status()).destinations[0].message).toMatch(/self-signed certificate/);
    stranger.socket.close();
    await relay.stop();
    relay = await RelayProcess.start({ NODE_EXTRA_CA_CERTS: cert });
    const desk = await openDesk({ destinations: [destination] });
    await desk.play(sample, { toUs: 5e6 });
    expect((await relay.status()).destinations[0]).toMatchObject({ state: 'live', framesDropped: 0 });
    expect((await relay.status()).destinations[0].framesSent).toBeGreaterThan(30);
    desk.socket.close();
    front.close();
  });

  test('comes back by itself when the server was restarted', async () => {
    const own = await NginxRtmp.start();
    const desk = await openDesk({
      destinations: [
        { id: 'n', name: 'Own', frame: 'wide', url: own.url, key: 'k' },
        { id: 'o', name: 'Other', frame: 'wide', url: nginx.url, key: 'k' },
      ],
    });
    const playing = desk.play(sample);
    await eventually(async () => (await relay.status()).destinations.every((d) => d.state === 'live'));
    await own.stop();
    await eventually(async () => (await relay.status()).destinations[0].state === 'unreachable');
    const { destinations } = await relay.status();
    expect(destinations[0].message).toMatch(/next try in/);
    expect(destinations[1].state).toBe('live');
    desk.socket.close();
    await playing;
  });
});

test('node-media-server takes the right key and refuses a wrong one, which is said plainly', async () => {
  const [rtmpPort, httpPort] = [await freePort(), await freePort()];
  const ingest = await startIngest({
    rtmpPort,
    httpPort,
    folder,
    allowed: (streamPath) => streamPath === '/larch/right',
  });
  try {
    const url = `rtmp://127.0.0.1:${rtmpPort}/larch`;
    const desk = await openDesk({
      destinations: [
        { id: 'a', name: 'Right', frame: 'wide', url, key: 'right' },
        { id: 'b', name: 'Wrong', frame: 'wide', url, key: 'wrong' },
      ],
    });
    const playing = desk.play(sample);
    const pulled = path.join(folder, 'pulled.flv');
    await eventually(async () => (await relay.status()).destinations[0].framesSent > 0);
    await pull(`http://127.0.0.1:${httpPort}/larch/right.flv`, pulled, 4);
    await eventually(async () => (await relay.status()).destinations[1].state === 'refused', 30_000);
    const [right, wrong] = (await relay.status()).destinations;
    expect(right.state).toBe('live');
    expect(wrong.message).toMatch(/key is probably wrong/);
    judge(pulled);
    // The corrected key is taken without touching the other destination.
    await relay.order('POST', '/destination', {
      id: 'b',
      name: 'Wrong',
      frame: 'wide',
      url: `rtmp://127.0.0.1:${rtmpPort}/larch`,
      key: 'right',
    });
    expect((await relay.status()).destinations[0].reconnects).toBe(0);
    desk.socket.close();
    await playing;
  } finally {
    await ingest.stop();
  }
});

test('ffmpeg as a listening server takes the broadcast whole', async () => {
  const port = await freePort();
  const file = path.join(folder, 'listened.flv');
  const listener = spawn(
    'ffmpeg',
    [...['-v', 'error', '-y', '-listen', '1', '-i', `rtmp://127.0.0.1:${port}/live/key`], '-c', 'copy', file],
    { stdio: 'ignore' },
  );
  const ended = new Promise((resolve) => listener.on('exit', resolve));
  try {
    const desk = await openDesk({
      destinations: [
        { id: 'a', name: 'Listener', frame: 'wide', url: `rtmp://127.0.0.1:${port}/live`, key: 'key' },
      ],
    });
    const playing = desk.play(sample);
    await eventually(async () => (await relay.status()).destinations[0].framesSent > 120);
    desk.socket.close();
    await playing;
    await relay.order('POST', '/end', {});
    // It writes its file to the end when the publisher says goodbye.
    await ended;
    judge(file);
  } finally {
    listener.kill('SIGKILL');
  }
});

describe('bad destinations', () => {
  /** In front of a server we did not write; what it does once pictures come is given. */
  async function front(nginx: NginxRtmp, onPictures: (client: net.Socket) => void): Promise<string> {
    const server = net.createServer((client) => {
      const target = net.connect(nginx.port, '127.0.0.1');
      let bytes = 0;
      let told = false;
      client.on('data', (data) => {
        bytes += data.length;
        target.write(data);
        // The handshake and the commands are 4 kB; behind them come headers and pictures.
        if (bytes < 12_000 || told) return;
        told = true;
        setTimeout(() => onPictures(client), 300);
      });
      target.on('data', (data) => client.write(data));
      for (const [one, other] of [
        [client, target],
        [target, client],
      ])
        one.on('error', () => undefined).on('close', () => other.destroy());
    });
    const port = await freePort();
    server.listen(port, '127.0.0.1');
    return `rtmp://127.0.0.1:${port}/live`;
  }

  test('a server that does not want what is sent is not taken for a wrong key; one that hangs up at it is tried on; the others go on', async () => {
    const nginx = await NginxRtmp.start();
    const words = [
      'onStatus',
      0,
      null,
      { level: 'error', code: 'NetStream.Publish.Rejected', description: 'video codec not supported' },
    ];
    const message = { type: MESSAGE.command, timestampMs: 0, messageStreamId: 1, payload: encodeAmf0(words) };
    const at = (id: string, url: string) => ({ id, name: id, frame: 'wide' as const, url, key: id });
    const refusing = await front(nginx, (client) => client.write(chunkMessage(message, 5, 4096)));
    const hanging = await front(nginx, (client) => client.destroy());
    const desk = await openDesk({
      destinations: [at('refusing', refusing), at('hanging', hanging), at('good', nginx.url)],
    });
    const playing = desk.play(sample, { toUs: 11e6 });
    const of = async (id: string) => (await relay.status()).destinations.find((d) => d.id === id)!;
    await eventually(async () => (await of('refusing')).state === 'refused', 10_000);
    expect((await of('refusing')).message).toMatch(
      /took the key.*as soon as pictures came.*codec not supported.*size, rate/,
    );
    await playing;
    // It is known by several tries, with longer and longer waits between them: pictures must come as long as it takes.
    let known = false;
    const again = (async () => {
      for (let round = 1; !known; round++) await desk.play(sample, { toUs: 11e6, shiftUs: round * 11e6 });
    })();
    try {
      await eventually(
        async () => /hangs up as soon as pictures come/.test((await of('hanging')).message),
        20_000,
      );
    } finally {
      known = true;
    }
    await again;
    expect(await of('good')).toMatchObject({ state: 'live', framesDropped: 0, reconnects: 0 });
    desk.socket.close();
    await nginx.stop();
  });

  test('an address where nobody listens, a web server, and one that never answers are told apart; the recording goes on', async () => {
    const http = net.createServer((socket) =>
      socket.on('data', () => socket.end('HTTP/1.1 400 Bad Request\r\n\r\n')),
    );
    const mute = net.createServer((socket) => socket.on('error', () => undefined));
    const [nobody, httpPort, mutePort] = [await freePort(), await freePort(), await freePort()];
    http.listen(httpPort, '127.0.0.1');
    mute.listen(mutePort, '127.0.0.1');
    const at = (id: string, port: number) => ({
      id,
      name: id,
      frame: 'wide' as const,
      url: `rtmp://127.0.0.1:${port}/live`,
      key: 'k',
    });
    const desk = await openDesk({
      destinations: [at('nobody', nobody), at('http', httpPort), at('mute', mutePort)],
      recordingFolder: folder,
    });
    const playing = desk.play(sample, { toUs: 11.5e6 });
    await eventually(
      async () => (await relay.status()).destinations.every((d) => d.state === 'unreachable'),
      12_000,
    );
    const [a, b, c] = (await relay.status()).destinations;
    expect(a.message).toMatch(/nothing answers/);
    expect(b.message).toMatch(/not an RTMP server/);
    expect(c.message).toMatch(/did not answer within 10 s/);
    await playing;
    expect((await relay.status()).recording!.seconds).toBeGreaterThan(8);
    http.close();
    mute.close();
  });

  test('one that stalls is found within seconds, loses whole groups of pictures, and does not hold up the others', async () => {
    // More than the receive buffer of the front grows to: a small stream would be swallowed by it.
    const heavy = await makeSampleStream(26, { kbps: 4000, size: '640x360' });
    for (const config of heavy.configs)
      if (config.track === 'video') config.facts = { ...config.facts, width: 640, height: 360, kbps: 4000 };
    const nginx = await NginxRtmp.start();
    let stalled = false;
    const front = net.createServer((client) => {
      const target = net.connect(nginx.port, '127.0.0.1');
      client.on('data', (data) => {
        if (stalled) client.pause();
        target.write(data);
      });
      target.pipe(client);
      for (const socket of [client, target]) socket.on('error', () => undefined);
    });
    const port = await freePort();
    front.listen(port, '127.0.0.1');
    const desk = await openDesk({
      destinations: [
        { id: 's', name: 'Stalls', frame: 'wide', url: `rtmp://127.0.0.1:${port}/live`, key: 's' },
        { id: 'g', name: 'Good', frame: 'wide', url: nginx.url, key: 'g' },
      ],
    });
    for (const config of heavy.configs) desk.send(config);
    const playing = desk.play(heavy);
    await eventually(async () => (await relay.status()).destinations.every((d) => d.framesSent > 10));
    stalled = true;
    await eventually(async () => (await relay.status()).destinations[0].state === 'stalled', 20_000);
    await eventually(async () => (await relay.status()).destinations[0].framesDropped > 0, 20_000);
    expect((await relay.status()).destinations[1]).toMatchObject({ state: 'live', framesDropped: 0 });
    desk.socket.close();
    await playing;
    front.close();
    await nginx.stop();
  });
});

describe('uplink', () => {
  test('a wrong ticket, another session and garbage are refused with a reason, and the broadcast goes on', async () => {
    const order = await relay.begin({ recordingFolder: folder });
    const desk = new FakeDesk(relay, order);
    await desk.welcome();
    for (const config of sample.configs) desk.send(config);
    const playing = desk.play(sample, { toUs: 4e6 });
    const wrong = new FakeDesk(relay, order, 'x', 'ticket-ticket-ticket-wrong!');
    await wrong.until((d) => d.closedWith !== null);
    expect(wrong.said).toContainEqual({
      type: 'refuse',
      code: 'uplink.ticket',
      message: 'the ticket is wrong',
    });
    const stray = new FakeDesk(relay, { ...order, sessionId: 'another' });
    await stray.until((d) => d.closedWith !== null);
    const garbage = new FakeDesk(relay, order, 'y', 'ticket-ticket-ticket-wrong!');
    garbage.socket.once('open', () => garbage.socket.send(new Uint8Array([250, 1, 2, 3])));
    await garbage.until((d) => d.closedWith !== null);
    await playing;
    expect((await relay.status()).state).toBe('live');
    expect((await relay.order('GET', '/status', undefined, 'x'.repeat(40))).status).toBe(401);
  });

  test('after a short break nothing is missing: what was not acknowledged is sent again', async () => {
    const order = await relay.begin({ recordingFolder: folder });
    const first = new FakeDesk(relay, order);
    await first.welcome();
    for (const config of sample.configs) first.send(config);
    await first.play(sample, { toUs: 3e6 });
    first.socket.terminate();
    const second = new FakeDesk(relay, order);
    await second.welcome();
    const welcome = second.said.find((m) => m.type === 'welcome');
    expect(welcome).toMatchObject({ fresh: false });
    if (welcome?.type !== 'welcome') return;
    // The relay has all that was sent; go on behind it.
    second.sequence = welcome.lastSequence;
    const next = sample.packets[welcome.lastSequence].timestampUs;
    await second.play(sample, { fromUs: next, toUs: 7e6 });
    await relay.order('POST', '/end', {});
    const [file] = readdirSync(folder).filter((n) => n.endsWith('.mkv'));
    const result = analyse(path.join(folder, file));
    expect(result.largestGapSeconds).toBeLessThan(0.05);
    expect(result.keyframePictures).not.toHaveLength(0);
    expect(new Set(result.keyframePictures)).toEqual(new Set([60]));
  });

  test('while the desk is away the cover is played, and the desk goes on where time has got to', async () => {
    const nginx = await NginxRtmp.start();
    const desk = await openDesk({
      destinations: [{ id: 'n', name: 'N', frame: 'wide', url: nginx.url, key: 'c' }],
      recordingFolder: folder,
    });
    for (const config of sample.configs) desk.send({ ...config, cover: true });
    for (const packet of sample.packets.filter((p) => p.timestampUs < 2e6))
      desk.send({ type: 'packet', sequence: 0, cover: true, encode: 'wide', packet });
    desk.send({ type: 'coverEnd', encode: 'wide' });
    await desk.play(sample, { toUs: 4e6 });
    desk.socket.terminate();
    await eventually(async () => (await relay.status()).state === 'covered');
    expect((await relay.status()).message).toMatch(/viewers see the cover/);
    await pause(3000);
    const again = new FakeDesk(relay, desk.order, 'desk-2');
    await again.welcome();
    for (const config of sample.configs) again.send(config);
    await again.play(sample, { toUs: 4e6, shiftUs: 50e6 });
    const status = await relay.status();
    expect(status.state).toBe('live');
    expect(status.destinations[0]).toMatchObject({ state: 'live', reconnects: 0 });
    await relay.order('POST', '/end', {});
    const [file, ...more] = readdirSync(folder).filter((n) => n.endsWith('.mkv'));
    expect(more).toEqual([]);
    const result = analyse(path.join(folder, file));
    expect(result.stampsRise).toBe(true);
    expect(result.seconds).toBeGreaterThan(10);
    // The desk's silence until the cover comes is the only gap.
    expect(result.largestGapSeconds).toBeLessThan(2);
    await nginx.stop();
  });
});

describe('recording', () => {
  test('survives kill -9: readable nearly to the end, without a decoding error', async () => {
    const desk = await openDesk({ recordingFolder: folder });
    await desk.play(sample, { toUs: 8e6 });
    await relay.stop('SIGKILL');
    const [file] = readdirSync(folder).filter((n) => n.endsWith('.mkv'));
    const result = analyse(path.join(folder, file));
    expect(result.seconds).toBeGreaterThan(6);
    expect(result.stampsRise).toBe(true);
  });

  test('a folder that cannot be written stops the recording with a plain message, not the broadcast', async () => {
    const blocked = path.join(folder, 'file-not-folder');
    chmodSync(folder, 0o755);
    await import('node:fs/promises').then((fs) => fs.writeFile(blocked, 'x'));
    const desk = await openDesk({ recordingFolder: path.join(blocked, 'sub') });
    await desk.play(sample, { toUs: 2e6 });
    const status = await relay.status();
    expect(status.state).toBe('live');
    expect(status.recording!.message).toMatch(/Recording stopped: .* The broadcast continues/);
  });
});
