/** Where controllers come from: the browser's MIDI, or the stand-in in another window, which speaks the same bytes. */

export interface ControllerPort {
  /** Names of what is plugged in. */
  readonly devices: readonly string[];
  onBytes: (device: string, bytes: Uint8Array) => void;
  /** Something was plugged in or out. */
  onDevices: () => void;
  send: (device: string, bytes: readonly number[]) => void;
  close: () => void;
}

/** What Web MIDI has of it (W3C Web MIDI API). */
export async function midiPort(): Promise<ControllerPort> {
  const access = await navigator.requestMIDIAccess();
  const port: ControllerPort = {
    get devices() {
      return [...access.inputs.values()].filter(({ state }) => state === 'connected').map(nameOf);
    },
    onBytes: () => {},
    onDevices: () => {},
    send: (device, bytes) => {
      for (const output of access.outputs.values())
        if (nameOf(output) === device && output.state === 'connected') output.send([...bytes]);
    },
    close: () => {
      access.onstatechange = null;
      for (const input of access.inputs.values()) input.onmidimessage = null;
    },
  };
  const listen = () => {
    for (const input of access.inputs.values())
      input.onmidimessage = ({ data }) => data && port.onBytes(nameOf(input), data);
  };
  access.onstatechange = () => {
    listen();
    port.onDevices();
  };
  listen();
  return port;
}

const nameOf = ({ name }: MIDIPort): string => (name ?? '').slice(0, 200) || 'Controller';

export const STAND_IN = 'Stand-in controller';
const CHANNEL = 'dolomite-controller';

type StandInMessage =
  { from: 'controller' | 'studio'; bytes: number[] } | { from: 'controller'; here: boolean };

/** The studio's end of the stand-in. */
export function standInPort(): ControllerPort {
  const channel = new BroadcastChannel(CHANNEL);
  let here = false;
  const port: ControllerPort = {
    get devices() {
      return here ? [STAND_IN] : [];
    },
    onBytes: () => {},
    onDevices: () => {},
    send: (_, bytes) => channel.postMessage({ from: 'studio', bytes: [...bytes] } satisfies StandInMessage),
    close: () => channel.close(),
  };
  channel.onmessage = ({ data }: MessageEvent<StandInMessage>) => {
    if (data.from !== 'controller') return;
    if ('here' in data) {
      // One that was loaded again has not said that it left: it comes back dark.
      here = false;
      port.onDevices();
      here = data.here;
      return port.onDevices();
    }
    if (!here) {
      here = true;
      port.onDevices();
    }
    port.onBytes(STAND_IN, Uint8Array.from(data.bytes));
  };
  return port;
}

/** The stand-in's own end. @param lit what the studio sends back */
export function standInController(lit: (bytes: readonly number[]) => void) {
  const channel = new BroadcastChannel(CHANNEL);
  const say = (message: StandInMessage) => channel.postMessage(message);
  channel.onmessage = ({ data }: MessageEvent<StandInMessage>) => {
    if (data.from === 'studio' && 'bytes' in data) lit(data.bytes);
  };
  say({ from: 'controller', here: true });
  return {
    send: (bytes: number[]) => say({ from: 'controller', bytes }),
    unplug: () => {
      say({ from: 'controller', here: false });
      channel.close();
    },
  };
}
