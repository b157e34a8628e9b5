import { ruleFor, mayGo } from '../../core/access/access-table';
import { DOOR_TABLE, isSigned } from '../../core/access/door-table';
import { isFault } from '../../core/fault';
import { programCommands } from '../../core/commands/api-docs';
import { commandShape, type Press } from '../../core/commands/commands';
import type { CommandSource } from '../../core/programme/commands';
import { signInSchema } from '../../protocol/access';
import type { FromDoor, Passed, Standing, ToDoor } from '../../protocol/door';
import type { PadState } from '../../protocol/pad';
import { readPress } from '../../protocol/programme-schemas';
import type { Access, Visitor } from '../access/access';
import { browserName } from '../access/browser-name';
import { cookieOf, setCookie } from '../access/cookie';
import type { Wings } from './wings';
import type { HookConnection, HookDoor } from '../audience/hook-door';
import { guestConnection } from './guest-connection';
import { OWNERS_ALONE, PadConnection, type ForPads } from './pad-connection';

/** How often those who look are told how it stands. Their pages say that they are cut off when they hear nothing for two. */
const TELL_MS = 1000;
const HOOK = /^\/hooks\/([\w-]{1,64})$/;

const NO_SHOW = 'No show is open in the studio.';
const HELD =
  'This is held down by a person: another program mutes a channel by “mute”, or all of them by “muteAll”.';

interface Answer {
  status: number;
  cookie?: string;
  body: object;
}

/** Somebody or something whose socket was let in. */
interface Connection {
  /** Null for a program, which is let in by its signature. */
  visitorId: string | null;
  said: (text: string) => void;
  left: () => void;
}

export interface VisitorParts {
  access: Pick<Access, 'who' | 'program' | 'comeIn' | 'leave'>;
  hooks: Pick<HookDoor, 'call' | 'opening' | 'connected' | 'message' | 'tooLarge'>;
  standing: () => Omit<Standing, 'role' | 'name'>;
  /** For those who operate: how everything stands, and what they press. Null while no show is open. */
  pad: (name: string) => PadState | null;
  /** What the desk tells for pads; null while no show is open. */
  forPads: () => ForPads | null;
  /** One more, or one less. */
  padsChanged: (by: 1 | -1) => void;
  press: (press: Press, by: CommandSource, held: boolean) => Promise<string | null>;
  /** Of the show in use; null while none is open. */
  wings: () => Wings | null;
}

/**
 * Those who come by a door, as the studio answers them: the door only passes on, here it is decided who may what.
 * One for each door; a line that breaks takes everybody with it.
 */
export class Visitors {
  readonly #connections = new Map<number, Connection>();
  readonly #watching = new Map<number, Visitor>();
  #timer: NodeJS.Timeout | undefined;

  constructor(
    readonly parts: VisitorParts,
    readonly say: (message: ToDoor) => void,
  ) {}

  hear(message: Exclude<FromDoor, { type: 'hello' }>): void {
    switch (message.type) {
      case 'ask': {
        const answer = ({ status, cookie, body }: Answer) =>
          this.say({
            ...{ type: 'answer', id: message.id, status },
            ...{ cookie: cookie ?? null, body: JSON.stringify(body) },
          });
        const given = this.#answer(message);
        if (!(given instanceof Promise)) return answer(given);
        return void given.then(answer);
      }
      case 'tooLarge': {
        const hookId = HOOK.exec(message.path)?.[1];
        if (hookId !== undefined) this.parts.hooks.tooLarge(hookId);
        return;
      }
      case 'open':
        return this.#open(message);
      case 'said':
        return this.#connections.get(message.id)?.said(message.text);
      case 'left':
        return this.#left(message.id);
    }
  }

  /** These may not be here any more. */
  sendOut(visitorIds: readonly string[]): void {
    for (const [id, { visitorId }] of [...this.#connections])
      if (visitorId !== null && visitorIds.includes(visitorId)) {
        this.say({ type: 'shut', id, why: 'revoked' });
        this.#left(id);
      }
  }

  /** The door is gone, and everybody with it. */
  lost(): void {
    for (const id of [...this.#connections.keys()]) this.#left(id);
  }

  #answer(ask: Extract<FromDoor, { type: 'ask' }>): Answer | Promise<Answer> {
    const { how, path } = ask;
    const rule = ruleFor(how, path, DOOR_TABLE);
    const visitor = this.#who(ask);
    if (!rule || !mayGo(rule, visitor?.role ?? null))
      return visitor || !rule
        ? {
            status: 403,
            body: { code: 'access.403', message: 'This is not for you: ask whoever gave you the link.' },
          }
        : {
            status: 401,
            body: { code: 'access.401', message: 'Come in first, by the link you were given.' },
          };
    if (isSigned(rule)) {
      const hookId = HOOK.exec(path)?.[1];
      if (hookId !== undefined) return this.parts.hooks.call(hookId, (name) => ask.headers[name], ask.body);
      return { status: 404, body: { code: 'hook.missing', message: 'There is no such hook here.' } };
    }
    if (path === '/come-in') return this.#comeIn(ask);
    if (path === '/leave') {
      const browser = this.parts.access.who(cookieOf({ headers: ask.headers }, cookieName(ask)));
      // A program has nothing to leave: its link is the owner's to revoke.
      if (browser) this.parts.access.leave(browser);
      return {
        status: 200,
        cookie: setCookie(cookieName(ask), null, ask.secure),
        body: { message: 'You have left.' },
      };
    }
    if (path === '/commands') return { status: 200, body: { commands: programCommands() } };
    if (path === '/press') return this.#press(ask.body);
    if (path === '/state') {
      const state = this.parts.pad(visitor!.name);
      return state
        ? { status: 200, body: state }
        : { status: 503, body: { code: 'pad.show', message: NO_SHOW } };
    }
    return { status: 200, body: this.#standingFor(visitor!) };
  }

  /** A program's press. */
  async #press(body: string): Promise<Answer> {
    const read = readPress(parse(body));
    if ('problem' in read)
      return {
        status: 400,
        body: { code: 'press.400', message: `This cannot be pressed: ${read.problem}.` },
      };
    const { owners, holds } = commandShape(read.press.command);
    if (owners) return { status: 403, body: { code: 'press.403', message: OWNERS_ALONE } };
    // Nobody would let go of it if the program ended.
    if (holds) return { status: 400, body: { code: 'press.400', message: HELD } };
    const problem = await this.parts.press(read.press, 'api', true);
    return problem === null
      ? { status: 200, body: { done: true } }
      : { status: 409, body: { code: 'press.409', message: problem } };
  }

  #comeIn(ask: Extract<FromDoor, { type: 'ask' }>): { status: number; cookie?: string; body: object } {
    const { error, value } = signInSchema.validate(parse(ask.body));
    if (error)
      return { status: 400, body: { code: 'access.400', message: 'Paste the link as you were given it.' } };
    try {
      const { cookie } = this.parts.access.comeIn(value.token, browserName(ask.headers['user-agent'] ?? ''));
      return {
        status: 200,
        cookie: setCookie(cookieName(ask), cookie, ask.secure),
        body: { message: 'You are in.' },
      };
    } catch (fault) {
      if (!isFault(fault)) throw fault;
      return {
        status: fault.code === 'access.slow' ? 429 : 401,
        body: { code: fault.code, message: fault.message },
      };
    }
  }

  #open(opening: Extract<FromDoor, { type: 'open' }>): void {
    const { id, path, headers } = opening;
    const rule = ruleFor('socket', path, DOOR_TABLE);
    const visitor = this.#who(opening);
    const refuse = (status: number) => this.say({ type: 'refused', id, status });
    if (!rule || !mayGo(rule, visitor?.role ?? null)) return refuse(visitor || !rule ? 403 : 401);
    if (isSigned(rule)) {
      const hookId = HOOK.exec(path)?.[1];
      if (hookId === undefined) return refuse(404);
      const refused = this.parts.hooks.opening(hookId, (name) => headers[name]);
      if (refused) return refuse(refused.status);
      const connection: HookConnection = { close: (why) => this.say({ type: 'shut', id, why }) };
      const left = this.parts.hooks.connected(hookId, connection);
      this.#connections.set(id, {
        visitorId: null,
        said: (text) => this.parts.hooks.message(hookId, connection, text),
        left,
      });
      const offered = (headers['sec-websocket-protocol'] ?? '').split(',').map((name) => name.trim());
      return this.say({
        type: 'opened',
        id,
        protocol: offered.includes('cloudevents.json') ? 'cloudevents.json' : null,
      });
    }
    if (path === '/pad') {
      this.say({ type: 'opened', id, protocol: null });
      const { name } = visitor!;
      const pad = new PadConnection({
        state: () => this.parts.pad(name),
        forPads: () => this.parts.forPads(),
        press: (press, held) => this.parts.press(press, 'pad', held),
        say: (message) => this.say({ type: 'say', id, text: JSON.stringify(message) }),
      });
      this.#connections.set(id, {
        visitorId: visitor!.id,
        said: (text) => pad.said(text),
        left: () => {
          pad.close();
          this.parts.padsChanged(-1);
        },
      });
      this.parts.padsChanged(1);
      return;
    }
    if (path === '/guest') {
      const wings = this.parts.wings();
      // 503: their page tries again until a show is open.
      if (!wings) return refuse(503);
      this.say({ type: 'opened', id, protocol: null });
      const guest = guestConnection(wings, visitor!, {
        say: (text) => this.say({ type: 'say', id, text }),
        shut: (why) => this.say({ type: 'shut', id, why }),
      });
      this.#connections.set(id, { visitorId: visitor!.id, ...guest });
      return;
    }
    this.#connections.set(id, {
      visitorId: visitor!.id,
      said: () => this.say({ type: 'shut', id, why: 'nothing is to be said here' }),
      left: () => this.#watching.delete(id),
    });
    this.#watching.set(id, visitor!);
    this.say({ type: 'opened', id, protocol: null });
    this.#tell(id, visitor!);
    this.#timer ??= setInterval(() => this.#tellAll(), TELL_MS);
  }

  #left(id: number): void {
    const connection = this.#connections.get(id);
    if (!connection) return;
    this.#connections.delete(id);
    connection.left();
    if (this.#watching.size > 0) return;
    clearInterval(this.#timer);
    this.#timer = undefined;
  }

  #tellAll(): void {
    for (const [id, visitor] of this.#watching) this.#tell(id, visitor);
  }

  #tell(id: number, visitor: Visitor): void {
    this.say({ type: 'say', id, text: JSON.stringify(this.#standingFor(visitor)) });
  }

  #standingFor({ role, name }: Visitor): Standing {
    if (role === 'owner') throw new Error('the owner does not come by a door');
    return { ...this.parts.standing(), role, name };
  }

  #who(passed: Passed): Visitor | null {
    const { access } = this.parts;
    const browser = access.who(cookieOf({ headers: passed.headers }, cookieName(passed)));
    // RFC 6750 §2.1. A browser's page cannot be lured into sending it.
    const bearer = /^Bearer ([\w.~+/-]+=*)$/i.exec(passed.headers.authorization ?? '')?.[1];
    return browser ?? access.program(bearer ?? null);
  }
}

const cookieName = ({ port }: Passed): string => `dolomite-door-${port}`;

function parse(body: string): unknown {
  try {
    return JSON.parse(body);
  } catch {
    return null;
  }
}
