import { commandShape } from '~/core/commands/commands';
import { lightBytes, MidiReader, PickUp, relativeSteps, type ControlMove } from '~/core/controllers/midi';
import { messageOf } from '~/core/fault';
import { standingOf } from '~/core/programme/programme-state';
import { findRecord, recordsOf } from '~/core/show/document';
import type { ChannelRecord } from '~/core/show/records';
import type { ControlRecord } from '~/core/show/rundown-records';
import { FADER_MAX_DB, FADER_MIN_DB } from '~/core/sound/decibel';
import { systemClock } from '~/engine/system-clock';
import type { ShowControl } from '../commands/show-control';
import { midiPort, standInPort, type ControllerPort } from './port';

/** What an encoder's step moves a fader by, dB. */
const STEP_DB = 0.5;
/** A fader that has not moved for so long is where it is meant to be. */
const REST_MS = 250;
/** Moves that may come in a second from one device; more is a fault of it, and is let go by. */
const MOVES_A_SECOND = 400;

const shareOf = (db: number): number => (db - FADER_MIN_DB) / (FADER_MAX_DB - FADER_MIN_DB);

export interface ControllersSnapshot {
  devices: readonly string[];
  /** Why there is no MIDI; null when there is, or nobody asked yet. */
  problem: 'none' | 'refused' | null;
}

/** Controllers of this computer: what they move is pressed, and their lights show how things stand. */
export class Controllers {
  #ports: ControllerPort[] = [];
  readonly #readers = new Map<string, MidiReader>();
  readonly #pickUps = new Map<string, PickUp>();
  readonly #lit = new Map<string, number>();
  /** Channels that are being moved: where to, which is ahead of what the programme was told. */
  readonly #moving = new Map<string, { gainDb: number; stop: () => void }>();
  /** What is held down, by device and control. */
  readonly #held = new Map<string, ControlRecord>();
  readonly #rates = new Map<string, { second: number; moves: number }>();
  readonly #listeners = new Set<() => void>();
  #snapshot: ControllersSnapshot = { devices: [], problem: null };
  #asked = false;
  readonly #unwatch: () => void;
  /** Somebody teaches a control: it gets all moves, and nothing is pressed. */
  onLearn: ((device: string, move: ControlMove) => void) | null = null;

  constructor(
    readonly control: ShowControl,
    readonly say: (message: string) => void,
  ) {
    this.#add(standInPort());
    // Who allowed it once need not be asked again.
    void navigator.permissions
      ?.query({ name: 'midi' as PermissionName })
      .then(({ state }) => {
        const wanted = recordsOf(control.document, 'control').length > 0;
        return state === 'granted' && wanted ? this.connect() : undefined;
      })
      .catch(() => undefined);
    const { desk, store } = control.parts;
    const stops = [desk.subscribe(() => this.#light()), store.subscribe(() => this.#light())];
    this.#unwatch = () => stops.forEach((stop) => stop());
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  readonly snapshot = (): ControllersSnapshot => this.#snapshot;

  /** Asks the browser for MIDI; from a click. */
  async connect(): Promise<void> {
    if (this.#asked) return;
    if (!('requestMIDIAccess' in navigator)) return this.#change({ problem: 'none' });
    try {
      this.#add(await midiPort());
      this.#asked = true;
      this.#change({ problem: null });
    } catch (error) {
      this.#change({ problem: 'refused' });
      this.say(messageOf(error));
    }
  }

  close(): void {
    this.#unwatch();
    for (const channelId of [...this.#moving.keys()]) this.#rest(channelId);
    this.#letGo(() => true);
    for (const port of this.#ports) port.close();
  }

  #add(port: ControllerPort): void {
    port.onBytes = (device, bytes) => this.#heard(device, bytes);
    port.onDevices = () => this.#plugged();
    this.#ports.push(port);
    this.#plugged();
  }

  #plugged(): void {
    const devices = this.#ports.flatMap((port) => port.devices);
    // What was plugged out comes back dark, and its faders have to be picked up again.
    for (const key of [...this.#lit.keys(), ...this.#pickUps.keys()])
      if (!devices.some((device) => key.startsWith(`${device}/`))) {
        this.#lit.delete(key);
        this.#pickUps.delete(key);
      }
    this.#letGo(({ device }) => !devices.includes(device));
    this.#change({ devices });
    this.#light();
  }

  /** Nobody stays muted because a controller was pulled out while *Cough* was held. */
  #letGo(which: (record: ControlRecord) => boolean): void {
    for (const [key, record] of [...this.#held])
      if (which(record)) {
        this.#held.delete(key);
        void this.control.press(record.press, 'controller', false);
      }
  }

  /** Moves a fader; one that rests has been moved once, however many steps it took. */
  #move(channel: ChannelRecord, gainDb: number): void {
    this.#moving.get(channel.id)?.stop();
    const stop = systemClock.after(REST_MS, () => this.#rest(channel.id));
    this.#moving.set(channel.id, { gainDb, stop });
    this.control.level(channel, gainDb, false, 0, 'controller');
  }

  #rest(channelId: string): void {
    const moving = this.#moving.get(channelId);
    this.#moving.delete(channelId);
    moving?.stop();
    const channel = findRecord(this.control.document, 'channel', channelId);
    if (channel && moving) this.control.level(channel, moving.gainDb, true, 0, 'controller');
  }

  #heard(device: string, bytes: Uint8Array): void {
    let reader = this.#readers.get(device);
    if (!reader) this.#readers.set(device, (reader = new MidiReader()));
    for (const move of reader.read(bytes)) {
      const second = Math.floor(performance.now() / 1000);
      const rate = this.#rates.get(device);
      const moves = rate?.second === second ? rate.moves + 1 : 1;
      this.#rates.set(device, { second, moves });
      if (moves > MOVES_A_SECOND) continue;
      if (this.onLearn) this.onLearn(device, move);
      else this.#moved(device, move);
    }
  }

  #moved(device: string, move: ControlMove): void {
    for (const record of recordsOf(this.control.document, 'control'))
      if (
        record.device === device &&
        record.of === move.of &&
        record.channel === move.channel &&
        record.number === move.number
      )
        this.#obey(record, move.value);
  }

  #obey(record: ControlRecord, value: number): void {
    const { press, mode } = record;
    const tell = (problem: string | null) => {
      if (problem !== null) this.say(problem);
    };
    if (mode === 'button') {
      const { holds } = commandShape(press.command);
      const held = `${record.device}/${record.id}`;
      if (holds && value > 0) this.#held.set(held, record);
      else this.#held.delete(held);
      if (value > 0) void this.control.press(press, 'controller').then(tell);
      else if (holds) void this.control.press(press, 'controller', false).then(tell);
      return;
    }
    if (press.command === 'draw') {
      if (mode === 'fader') tell(this.control.draw(value / 127, 'controller'));
      return;
    }
    const channel = findRecord(this.control.document, 'channel', String(press.params.channelId ?? ''));
    if (!channel) return tell('The channel that this control moves is not in the show any more.');
    const gainDb = this.#moving.get(channel.id)?.gainDb ?? standingOf(this.control.state, channel).gainDb;
    if (mode === 'relative') {
      const to = gainDb + relativeSteps(value) * STEP_DB;
      return this.#move(channel, Math.min(FADER_MAX_DB, Math.max(FADER_MIN_DB, to)));
    }
    const key = `${record.device}/${record.id}`;
    let pickUp = this.#pickUps.get(key);
    if (!pickUp) this.#pickUps.set(key, (pickUp = new PickUp()));
    const at = value / 127;
    if (pickUp.moved(at, shareOf(gainDb))) {
      const db = Math.round((FADER_MIN_DB + at * (FADER_MAX_DB - FADER_MIN_DB)) * 2) / 2;
      this.#move(channel, db);
    }
  }

  /** Buttons light up while what they call is on. */
  #light(): void {
    for (const record of recordsOf(this.control.document, 'control')) {
      if (record.mode !== 'button') continue;
      const value = this.#isOn(record) ? 127 : 0;
      const key = `${record.device}/${record.id}`;
      if ((this.#lit.get(key) ?? 0) === value) continue;
      for (const port of this.#ports) {
        // What is not plugged in is lit when it comes.
        if (!port.devices.includes(record.device)) continue;
        this.#lit.set(key, value);
        port.send(record.device, lightBytes(record, value));
      }
    }
  }

  #isOn({ press: { command, params } }: ControlRecord): boolean {
    const { state, document } = this.control;
    switch (command) {
      case 'scene':
        return state.onAir?.sceneId === params.sceneId;
      case 'pose':
        return state.onAir?.poseId === params.poseId;
      case 'jump':
        return state.rundown?.segmentId === params.segmentId;
      case 'mute': {
        const channel = findRecord(document, 'channel', String(params.channelId));
        return channel !== null && standingOf(state, channel).muted;
      }
      case 'onlyVoices':
        return state.onlyVoices;
      case 'cover':
        return state.covered;
      default:
        return false;
    }
  }

  #change(part: Partial<ControllersSnapshot>): void {
    this.#snapshot = { ...this.#snapshot, ...part };
    for (const listener of this.#listeners) listener();
  }
}
