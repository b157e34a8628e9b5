import { spawn, type ChildProcess } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import net from 'node:net';
import os from 'node:os';
import path from 'node:path';
import { rtmpModule } from '../../scripts/lib/debian.mjs';
import { freePort } from '../../scripts/lib/studio.mjs';

/** nginx with its RTMP module on a free port, in a folder of its own: an ingest that is not ours. */
export class NginxRtmp {
  private constructor(
    readonly host: string,
    readonly port: number,
    readonly folder: string,
    private readonly child: ChildProcess,
  ) {}

  get url(): string {
    return `rtmp://${this.host}:${this.port}/live`;
  }

  /** @param on another host to run on */
  static async start(on: { name: string; host: string } | null = null): Promise<NginxRtmp> {
    const host = on?.host ?? '127.0.0.1';
    const module = rtmpModule();
    if (!module) throw new Error('nginx has no RTMP module here');
    const folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-nginx-'));
    const port = await freePort();
    mkdirSync(path.join(folder, 'logs'));
    writeFileSync(
      path.join(folder, 'nginx.conf'),
      `load_module ${module};
daemon off; worker_processes 1; pid ${folder}/pid; error_log ${folder}/logs/error.log notice;
events { worker_connections 256; }
rtmp { server { listen ${host}:${port}; chunk_size 4096; application live { live on; record off; drop_idle_publisher 5s; } } }
`,
    );
    const command = ['/usr/sbin/nginx', '-p', folder, '-c', path.join(folder, 'nginx.conf')];
    const [program, ...args] = on ? ['ip', 'netns', 'exec', on.name, ...command] : command;
    const child = spawn(program, args, { stdio: 'ignore' });
    const server = new NginxRtmp(host, port, folder, child);
    await untilListening(port, host);
    return server;
  }

  async stop(): Promise<void> {
    this.child.kill('SIGTERM');
    await new Promise((resolve) =>
      this.child.exitCode === null ? this.child.once('exit', resolve) : resolve(null),
    );
    rmSync(this.folder, { recursive: true, force: true });
  }
}

export async function untilListening(port: number, host = '127.0.0.1'): Promise<void> {
  for (let tries = 0; tries < 100; tries++) {
    const open = await new Promise<boolean>((resolve) => {
      const socket = net.connect(port, host);
      socket.once('connect', () => {
        socket.destroy();
        resolve(true);
      });
      socket.once('error', () => resolve(false));
    });
    if (open) return;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error(`nothing listens on ${port}`);
}
