import { randomUUID } from 'node:crypto';
import { existsSync, renameSync, rmSync, statfsSync, statSync } from 'node:fs';
import path from 'node:path';
import { Worker } from 'node:worker_threads';
import { Fault } from '../../core/fault';
import type { VaultJob } from '../../protocol/vault';
import type { LateWrites } from '../db/late-writes';
import type { Log } from '../log';
import { PARTS, type FromRewrap, type RewrapWork } from './rewrap-orders';
import type { RecordingFacts, RecordingRepository } from './recording-repository';

/** Finished jobs that are still shown. */
const KEEP_DONE = 20;
/** Room that stays free on the disk. */
const SPARE_BYTES = 200e6;
const MAX_WAITING = 500;

/** Copies in other containers, one after the other; the original is never touched. */
export class VaultJobs {
  readonly jobs: VaultJob[] = [];
  #worker: Worker | null = null;
  #helper: number | null = null;
  #closed = false;

  constructor(
    readonly options: {
      recordings: RecordingRepository;
      writes: Pick<LateWrites, 'do'>;
      /** The built worker. */
      script: string;
      log: Log;
      changed: () => void;
    },
  ) {}

  /**
   * @throws Fault `vault.missing`, `vault.range`, `vault.busy`
   */
  add(
    order: Pick<VaultJob, 'recordingId' | 'to' | 'fromSeconds' | 'toSeconds'> & { title?: string },
  ): VaultJob {
    const recording = this.options.recordings.find(order.recordingId);
    if (!recording) throw new Fault('vault.missing', 'this recording is gone');
    if (this.jobs.filter((j) => j.state === 'waiting').length >= MAX_WAITING)
      throw new Fault('vault.busy', 'enough is waiting already: let some of it finish');
    const { fromSeconds, toSeconds } = order;
    if (fromSeconds !== null && toSeconds !== null && toSeconds - fromSeconds < 0.1)
      throw new Fault('vault.range', 'the end must come after the beginning');
    const trimmed = fromSeconds !== null || toSeconds !== null;
    const stem = recording.file.replace(/\.\w+$/, '');
    const job: VaultJob = {
      id: randomUUID(),
      recordingId: order.recordingId,
      name: order.title || `${stem}${trimmed ? ' trimmed' : order.to === 'mkv' ? ' mended' : ''}`,
      to: order.to,
      fromSeconds,
      toSeconds,
      state: 'waiting',
      progress: 0,
      message: '',
    };
    this.jobs.push(job);
    this.#next();
    this.options.changed();
    return job;
  }

  cancel(id: string): void {
    const job = this.jobs.find((j) => j.id === id);
    if (!job) return;
    if (job.state === 'running') this.#endWork();
    if (job.state === 'running' || job.state === 'waiting') job.state = 'cancelled';
    this.options.changed();
  }

  close(): void {
    this.#closed = true;
    for (const job of this.jobs) if (job.state === 'waiting') job.state = 'cancelled';
    this.#endWork();
  }

  #endWork(): void {
    void this.#worker?.terminate();
    this.#endHelper();
  }

  #endHelper(): void {
    try {
      if (this.#helper !== null) process.kill(this.#helper, 'SIGKILL');
    } catch {
      // It has ended by itself.
    }
    this.#helper = null;
  }

  #next(): void {
    if (this.#worker || this.#closed) return;
    const job = this.jobs.find((j) => j.state === 'waiting');
    if (!job) return;
    const recording = this.options.recordings.find(job.recordingId);
    if (!recording) {
      job.state = 'failed';
      job.message = 'The recording is gone.';
      return this.#next();
    }
    this.#run(job, recording);
  }

  #run(job: VaultJob, recording: RecordingFacts): void {
    const { recordings, writes, script, log, changed } = this.options;
    const from = recordings.pathOf(recording);
    const folder = recordings.place.usable;
    const name = freeName(folder, job.name, job.to);
    const file = path.join(folder, `${name}.part`);
    const fail = (message: string) => {
      job.state = 'failed';
      job.message = message;
    };
    const finish = () => {
      // Of a thread that was cut off.
      this.#endHelper();
      for (const end of ['', ...Object.values(PARTS)]) rmSync(file + end, { force: true });
      this.#worker = null;
      while (this.jobs.length > KEEP_DONE && !['waiting', 'running'].includes(this.jobs[0].state))
        this.jobs.shift();
      changed();
      this.#next();
    };
    try {
      const { bavail, bsize } = statfsSync(folder);
      if (bavail * bsize < statSync(from).size + SPARE_BYTES) {
        fail('There is not enough room on the disk for a copy: delete something first.');
        return void setImmediate(finish);
      }
    } catch {
      fail('The recording is not where it was: it may have been moved or the disk taken out.');
      return void setImmediate(finish);
    }
    job.state = 'running';
    const { to, fromSeconds, toSeconds } = job;
    const work: RewrapWork = { from, file, to, fromSeconds, toSeconds };
    this.#worker = new Worker(script, { workerData: work });
    this.#worker.on('message', (message: FromRewrap) => {
      if (message.type === 'helper') {
        this.#helper = message.pid;
        if (job.state !== 'running') this.#endHelper();
        return;
      }
      if (job.state !== 'running') return;
      if (message.type === 'progress') {
        job.progress = Math.max(job.progress, Math.min(0.99, message.share));
        changed();
      } else if (message.type === 'failed')
        fail(`The copy could not be made: ${message.message}. The original is as it was.`);
      else {
        renameSync(file, path.join(folder, name));
        const facts: RecordingFacts = {
          ...recording,
          id: randomUUID(),
          folder: recordings.folderOf(folder),
          file: name,
          kind: fromSeconds !== null || toSeconds !== null ? 'clip' : 'copy',
          title: job.name,
          madeFrom: recording.id,
          seconds: message.seconds,
          bytes: message.bytes,
          note: '',
        };
        writes.do(() => recordings.enter(facts));
        job.state = 'done';
        job.progress = 1;
      }
    });
    this.#worker.on('error', (error) => {
      log.warn({ error: error.message }, 'rewrap failed');
      fail(`The copy could not be made: ${error.message}. The original is as it was.`);
    });
    this.#worker.on('exit', () => {
      if (job.state === 'running') fail('The copy was cut off. The original is as it was.');
      finish();
    });
    changed();
  }
}

/** A file name that is not taken, without what no disk allows. */
function freeName(folder: string, wanted: string, extension: string): string {
  const stem =
    wanted
      .replace(/[/\\:*?"<>|\0-\x1f]/g, ' ')
      .slice(0, 150)
      .trim() || 'Clip';
  for (let n = 1; ; n++) {
    const name = `${stem}${n === 1 ? '' : ` ${n}`}.${extension}`;
    if (!existsSync(path.join(folder, name))) return name;
  }
}
