import { spawnSync } from 'node:child_process';

function ip(args: string): void {
  const { status, stderr } = spawnSync('ip', args.split(' '), { encoding: 'utf8' });
  if (status !== 0) throw new Error(`ip ${args}: ${stderr}`);
}

/** Another host on this machine: a network namespace behind a pair of virtual network cards (needs root and iproute2). */
export class NetNamespace {
  readonly name: string;
  readonly #near: string;
  readonly #far: string;
  readonly #net: string;
  #address = 1;

  constructor(number: number) {
    this.name = `dolomite-${number}`;
    this.#near = `dlm${number}n`;
    this.#far = `dlm${number}f`;
    this.#net = `10.231.${number}`;
    // What a run that was killed has left.
    this.remove();
    ip(`netns add ${this.name}`);
    ip(`link add ${this.#near} type veth peer name ${this.#far}`);
    ip(`link set ${this.#far} netns ${this.name}`);
    ip(`addr add ${this.#net}.1/24 dev ${this.#near}`);
    ip(`link set ${this.#near} up`);
    ip(`-n ${this.name} addr add ${this.host}/24 dev ${this.#far}`);
    ip(`-n ${this.name} link set ${this.#far} up`);
    ip(`-n ${this.name} link set lo up`);
  }

  /** Whether this user may make one here. */
  static get possible(): boolean {
    spawnSync('ip', ['netns', 'del', 'dolomite-probe']);
    const made = spawnSync('ip', ['netns', 'add', 'dolomite-probe']).status === 0;
    if (made) spawnSync('ip', ['netns', 'del', 'dolomite-probe']);
    return made;
  }

  /** Address of the other host. */
  get host(): string {
    return `${this.#net}.200`;
  }

  /** This side gets another address, as when it moves to another network: what was connected is cut off without a word. */
  changeAddress(): void {
    ip(`addr del ${this.#net}.${this.#address}/24 dev ${this.#near}`);
    this.#address += 1;
    ip(`addr add ${this.#net}.${this.#address}/24 dev ${this.#near}`);
  }

  /** Pulls the cable out, or puts it in. */
  plug(inserted: boolean): void {
    ip(`-n ${this.name} link set ${this.#far} ${inserted ? 'up' : 'down'}`);
  }

  remove(): void {
    spawnSync('ip', ['link', 'del', this.#near]);
    spawnSync('ip', ['netns', 'del', this.name]);
  }
}
