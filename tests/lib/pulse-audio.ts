/** A sound server that is not ours, with an output that leads nowhere, for as long as a test runs. */
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { eventually } from './relay-process';

export class PulseAudio {
  readonly #players = new Set<ChildProcess>();

  private constructor(
    readonly folder: string,
    /** As `PULSE_SERVER` names it. */
    readonly address: string,
    private readonly child: ChildProcess,
  ) {}

  static async start(): Promise<PulseAudio> {
    const folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-pulse-'));
    const socket = path.join(folder, 'native');
    const child = spawn(
      'pulseaudio',
      [
        ...['-n', '--daemonize=no', '--use-pid-file=no', '--exit-idle-time=-1', '--log-target=stderr'],
        ...['-L', `module-native-protocol-unix socket=${socket} auth-anonymous=1`],
        ...['-L', 'module-null-sink sink_name=hut sink_properties=device.description=Hut'],
      ],
      {
        stdio: 'ignore',
        env: { PATH: process.env.PATH, HOME: folder, XDG_RUNTIME_DIR: folder, XDG_CONFIG_HOME: folder },
      },
    );
    const server = new PulseAudio(folder, `unix:${socket}`, child);
    await eventually(() => Promise.resolve(server.#asks('info')), 30_000);
    return server;
  }

  /** Another program plays a tone until it is told to stop. @param name as programs are listed */
  async play(name: string, hertz: number): Promise<() => void> {
    const child = spawn(
      'ffmpeg',
      [
        ...['-v', 'error', '-re', '-f', 'lavfi', '-i', `sine=frequency=${hertz}:sample_rate=48000`],
        ...['-ac', '2', '-f', 'pulse', '-server', this.address, '-name', name, '-device', 'hut', name],
      ],
      { stdio: 'ignore', env: { PATH: process.env.PATH, HOME: this.folder } },
    );
    this.#players.add(child);
    await eventually(() => Promise.resolve(this.#list('sink-inputs').includes(name)), 30_000);
    return () => void child.kill('SIGKILL');
  }

  async stop(): Promise<void> {
    for (const player of this.#players) player.kill('SIGKILL');
    const ended = new Promise((resolve) => this.child.once('exit', resolve));
    if (this.child.exitCode === null) {
      this.child.kill('SIGKILL');
      await ended;
    }
    rmSync(this.folder, { recursive: true, force: true });
  }

  #asks(...args: string[]): boolean {
    return this.#pactl(args).status === 0;
  }

  #list(what: string): string {
    return this.#pactl(['list', what]).stdout;
  }

  #pactl(args: string[]) {
    return spawnSync('pactl', [`--server=${this.address}`, ...args], { encoding: 'utf8' });
  }
}
