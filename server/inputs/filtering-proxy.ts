/**
 * The only way out for a rendered page: an HTTP proxy on loopback that looks names up itself and connects to the
 * address it has looked at. So a redirect, a script, a socket or a name that changes its address meanwhile (DNS
 * rebinding) all meet the same check. Source of the two forms of request: RFC 9110 §7.6, §9.3.6.
 */
import { lookup as systemLookup } from 'node:dns/promises';
import http from 'node:http';
import net, { isIP } from 'node:net';
import type { Duplex } from 'node:stream';
import { messageOf } from '../../core/fault';
import { networkInterfaces } from 'node:os';
import { hostAndPort, isNearAddress, isPrivateAddress } from '../../core/inputs/web-address';

export interface FilterRules {
  /** `name:port` of private places that were allowed one by one. */
  allowed: ReadonlySet<string>;
  /** Told each time something was kept away. */
  onBlocked: (host: string) => void;
  /** All addresses of a name. */
  lookup?: (name: string) => Promise<string[]>;
  /** The addresses of this machine. */
  own?: () => string[];
}

/** RFC 9209: says that an answer is the proxy's own, and why. */
export const PROXY_STATUS = 'proxy-status';
const CONNECT_MS = 15_000;
/** A page has some dozens of connections at once; more is a page that wants to harm. */
const MAX_CONNECTIONS = 256;

const everyAddress = async (name: string): Promise<string[]> =>
  (await systemLookup(name, { all: true })).map((found) => found.address);

const ownAddresses = (): string[] =>
  Object.values(networkInterfaces()).flatMap((list) => (list ?? []).map(({ address }) => address));

export class FilteringProxy {
  readonly #server = http.createServer();
  readonly #sockets = new Set<Duplex>();

  private constructor(readonly rules: FilterRules) {
    this.#server.maxConnections = MAX_CONNECTIONS;
    this.#server.on('connection', (socket) => this.#keep(socket));
    this.#server.on('request', (request, response) => void this.#plain(request, response));
    this.#server.on('connect', (request, socket, head) => void this.#tunnel(request, socket, head));
  }

  static async open(rules: FilterRules): Promise<FilteringProxy> {
    const proxy = new FilteringProxy(rules);
    await new Promise<void>((resolve, reject) => {
      proxy.#server.once('error', reject);
      proxy.#server.listen(0, '127.0.0.1', resolve);
    });
    return proxy;
  }

  get port(): number {
    return (this.#server.address() as net.AddressInfo).port;
  }

  close(): void {
    this.#server.close();
    for (const socket of this.#sockets) socket.destroy();
  }

  #keep(socket: Duplex): void {
    this.#sockets.add(socket);
    socket.on('error', () => socket.destroy());
    socket.on('close', () => this.#sockets.delete(socket));
  }

  /** The address to connect to, or null when the page must not go there. */
  async #addressOf(name: string, host: string): Promise<string | null> {
    const bare = name.replace(/^\[|\]$/g, '');
    const addresses = isIP(bare) ? [bare] : await (this.rules.lookup ?? everyAddress)(bare);
    // One private address among several is enough: which one would be taken is not ours to say.
    const own = (this.rules.own ?? ownAddresses)();
    const inside = (address: string) => isPrivateAddress(address) || isNearAddress(address, own);
    if (!this.rules.allowed.has(host) && addresses.some(inside)) {
      this.rules.onBlocked(host);
      return null;
    }
    return addresses[0] ?? null;
  }

  async #plain(request: http.IncomingMessage, response: http.ServerResponse): Promise<void> {
    const refuse = (status: number, words: string, error = 'http_request_error') => {
      if (!response.headersSent)
        response.writeHead(status, {
          'content-type': 'text/plain',
          [PROXY_STATUS]: `dolomite; error=${error}`,
        });
      response.end(words);
    };
    let url: URL;
    try {
      url = new URL(request.url ?? '');
    } catch {
      return refuse(400, 'not a request to a proxy');
    }
    if (url.protocol !== 'http:') return refuse(400, 'only http is passed on here');
    try {
      const address = await this.#addressOf(url.hostname, hostAndPort(url));
      if (address === null)
        return refuse(403, 'kept away from a private network', 'destination_ip_prohibited');
      const headers: http.OutgoingHttpHeaders = { ...request.headers, host: url.host };
      delete headers['proxy-connection'];
      const onward = http.request(
        {
          host: address,
          port: url.port || 80,
          method: request.method,
          path: `${url.pathname}${url.search}`,
          headers,
          timeout: CONNECT_MS,
        },
        (answer) => {
          response.writeHead(answer.statusCode ?? 502, answer.headers);
          answer.pipe(response);
        },
      );
      onward.on('timeout', () => onward.destroy(new Error('no answer')));
      // What has begun to answer may think as long as it likes.
      onward.on('response', () => onward.setTimeout(0));
      onward.on('error', (error) => refuse(502, error.message, 'connection_refused'));
      response.on('close', () => onward.destroy());
      request.pipe(onward);
    } catch (error) {
      refuse(502, messageOf(error), 'dns_error');
    }
  }

  async #tunnel(request: http.IncomingMessage, socket: Duplex, head: Buffer): Promise<void> {
    this.#keep(socket);
    const refuse = (line: string) => socket.end(`HTTP/1.1 ${line}\r\nconnection: close\r\n\r\n`);
    const at = (request.url ?? '').lastIndexOf(':');
    const name = (request.url ?? '').slice(0, at);
    const port = Number((request.url ?? '').slice(at + 1));
    if (at < 1 || !Number.isInteger(port) || port < 1 || port > 65_535) return void refuse('400 Bad Request');
    try {
      const address = await this.#addressOf(name, `${name.toLowerCase()}:${port}`);
      if (address === null) return void refuse('403 Forbidden');
      const onward = net.connect({ host: address, port });
      this.#keep(onward);
      onward.setTimeout(CONNECT_MS, () => {
        if (onward.connecting) onward.destroy(new Error('no answer'));
      });
      onward.once('connect', () => {
        socket.write('HTTP/1.1 200 Connection Established\r\n\r\n');
        if (head.length > 0) onward.write(head);
        socket.pipe(onward);
        onward.pipe(socket);
      });
      onward.once('error', () => refuse('502 Bad Gateway'));
      onward.once('close', () => socket.destroy());
      socket.once('close', () => onward.destroy());
    } catch {
      refuse('502 Bad Gateway');
    }
  }
}
