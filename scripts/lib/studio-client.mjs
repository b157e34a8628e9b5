// Everything that scripts and tests ask of a studio or a stand-in goes through here: one place that holds who is asking.

export class StudioClient {
  /**
   * @param {string} origin where the paths begin, such as `http://127.0.0.1:4000/show/night-signal-box`
   * @param {Record<string, string>} headers sent with every request
   */
  constructor(origin, headers = {}) {
    this.origin = origin.replace(/\/$/, '');
    this.headers = headers;
  }

  /** Signs in by the token of a start. @returns {Promise<string>} what is sent as the cookie from then on */
  static async signIn(url, token) {
    const response = await new StudioClient(url).send('/sign-in', { token });
    if (!response.ok) throw new Error((await response.json()).message);
    return response.headers.get('set-cookie').split(';')[0];
  }

  /** @param {string} path below the origin, or a whole address @param {RequestInit} init */
  async ask(path = '', init = {}) {
    const url = /^https?:/.test(path) ? path : this.origin + path;
    // A connection of its own: a kept one may have been closed by the server while a test stood still for another program.
    return fetch(url, { ...init, headers: { connection: 'close', ...this.headers, ...init.headers } });
  }

  async json(path) {
    return (await this.ask(path)).json();
  }

  async text(path) {
    return (await this.ask(path)).text();
  }

  /** As a page's form sends it. Where it leads to is not followed. */
  form(path, fields) {
    return this.ask(path, { method: 'POST', body: new URLSearchParams(fields), redirect: 'manual' });
  }

  /** As JSON. */
  send(path, value) {
    return this.ask(path, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: typeof value === 'string' ? value : JSON.stringify(value),
    });
  }

  /** Brings a file in. @returns its id */
  async upload(name, bytes) {
    const response = await this.ask('/assets', {
      method: 'POST',
      headers: { 'x-file-name': name, 'content-type': 'application/octet-stream' },
      body: bytes,
    });
    if (!response.ok) throw new Error(await response.text());
    return (await response.json()).id;
  }

  /** Changes the show as another program would. @param {{ name: string, put: object[], removed: string[] }} edit */
  async edit({ name, put, removed = [] }) {
    const { records } = await this.json('/edits');
    const seen = records.filter((record) => put.some(({ id }) => id === record.id));
    const response = await this.send('/edits', { id: crypto.randomUUID(), name, put, removed, seen });
    if (!response.ok) throw new Error(await response.text());
  }
}
