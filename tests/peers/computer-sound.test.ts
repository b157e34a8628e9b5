/** The sound of this computer, by a sound server that is not ours: listed, recorded alone and all of it, gone and back. */
import { EventEmitter } from 'node:events';
import type { ServerResponse } from 'node:http';
import { afterAll, beforeAll, expect, test, vi } from 'vitest';
import { documentOf } from '../../core/show/document';
import { PLAIN_CHANNEL, type AnyRecord, type ComputerSoundSource } from '../../core/show/records';
import { sampleShow } from '../../core/show/sample-show';
import { InputPartReader } from '../../protocol/input-stream';
import { computerSounds } from '../../server/sound/computer-sound';
import { SoundOutlets } from '../../server/sound/sound-outlets';
import { PulseAudio } from '../lib/pulse-audio';
import { eventually } from '../lib/relay-process';

let pulse: PulseAudio;
beforeAll(async () => {
  pulse = await PulseAudio.start();
  vi.stubEnv('PULSE_SERVER', pulse.address);
});
afterAll(async () => {
  vi.unstubAllEnvs();
  await pulse?.stop();
});

/** A page that takes what it is sent. */
class Listener extends EventEmitter {
  readonly #reader = new InputPartReader();
  samples: number[] = [];
  messages: string[] = [];
  writableLength = 0;
  writeHead() {}
  flushHeaders() {}
  write(bytes: Uint8Array): boolean {
    for (const part of this.#reader.push(bytes))
      if (part.kind === 'status') this.messages.push(`${part.status.state} ${part.status.message}`.trim());
      else if (part.kind === 'audio') {
        const both = new Int16Array(part.body.slice().buffer);
        // Left alone.
        for (let i = 0; i < both.length; i += 2) this.samples.push(both[i]);
      }
    return true;
  }
  end() {}
  /** How high the newest second is, by its crossings of zero, hertz. */
  get hertz(): number {
    const newest = this.samples.slice(-48_000);
    return newest.filter((sample, i) => i > 0 && newest[i - 1] < 0 && sample >= 0).length;
  }
}

function listen(source: ComputerSoundSource): {
  listener: Listener;
  outlets: SoundOutlets;
  close: () => void;
} {
  const channel: AnyRecord = {
    ...PLAIN_CHANNEL,
    ...{ kind: 'channel', id: 'ch', showId: 'show', name: 'Computer', position: 0, gainDb: 0, source },
  };
  const shows = { all: () => [{ document: documentOf([sampleShow, channel]) }] };
  const outlets = new SoundOutlets(shows);
  const listener = new Listener();
  expect(outlets.attach('ch', listener as unknown as ServerResponse)).toBe(true);
  expect(outlets.attach('nobody', listener as unknown as ServerResponse)).toBe(false);
  return { listener, outlets, close: () => outlets.close() };
}
const program = (name: string): ComputerSoundSource => ({
  type: 'computer',
  of: 'program',
  name,
  label: name,
});
const hears = (listener: Listener, hertz: number) =>
  eventually(() => Promise.resolve(Math.abs(listener.hertz - hertz) < 8), 30_000);

test('outputs and programs are listed; one program is heard alone, an output as a whole', async () => {
  const stopFreight = await pulse.play('Switchback Freight', 660);
  await pulse.play('Night radio', 220);
  expect(await computerSounds()).toEqual({
    problem: '',
    outputs: [{ name: 'hut', label: 'Hut' }],
    programs: [
      { name: 'Night radio', label: 'Night radio' },
      { name: 'Switchback Freight', label: 'Switchback Freight' },
    ],
  });
  const freight = listen(program('Switchback Freight'));
  const radio = listen(program('Night radio'));
  await hears(freight.listener, 660);
  await hears(radio.listener, 220);
  const all = listen({ type: 'computer', of: 'output', name: 'hut', label: 'Hut' });
  // Two tones of one level: louder than either of them alone.
  const loudest = ({ samples }: Listener) => Math.max(...samples.slice(-48_000));
  await eventually(() => Promise.resolve(loudest(all.listener) > loudest(radio.listener) * 1.5), 30_000);

  // It stops playing, and is heard again when it plays again.
  stopFreight();
  await eventually(
    () =>
      Promise.resolve(
        /waiting Switchback Freight (has stopped|plays nothing)/.test(freight.listener.messages.at(-1)!),
      ),
    30_000,
  );
  await pulse.play('Switchback Freight', 440);
  freight.listener.samples = [];
  await hears(freight.listener, 440);
  expect(freight.listener.messages.at(-1)).toBe('running');
  for (const { close } of [freight, radio, all]) close();
});

test('what is not there, or no sound server at all, is said', async () => {
  const gone = listen({ type: 'computer', of: 'output', name: 'nowhere', label: 'Nowhere' });
  await eventually(() =>
    Promise.resolve(gone.listener.messages.at(-1) === 'waiting this output is not there'),
  );
  gone.close();
  vi.stubEnv('PULSE_SERVER', 'unix:/nowhere/native');
  expect(await computerSounds()).toEqual({
    ...{ outputs: [], programs: [] },
    problem: 'no sound server answers: start PulseAudio or PipeWire',
  });
  vi.stubEnv('PATH', '/nowhere');
  expect((await computerSounds()).problem).toMatch(/pactl: install pulseaudio-utils/);
});
