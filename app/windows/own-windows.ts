/** Windows that the desk's page opened: they live with it, and close with it. */

export type WindowKind = 'wall' | 'wide' | 'tall' | 'peek';

export interface OwnWindow {
  id: string;
  kind: WindowKind;
  window: Window;
}

/** How large each opens, screen pixels. */
const SIZES: Record<WindowKind, { width: number; height: number }> = {
  wall: { width: 1120, height: 680 },
  wide: { width: 960, height: 540 },
  tall: { width: 360, height: 640 },
  peek: { width: 340, height: 620 },
};

interface PictureInPicture {
  requestWindow(options: { width: number; height: number }): Promise<Window>;
}

export class OwnWindows {
  #all: readonly OwnWindow[] = [];
  readonly #listeners = new Set<() => void>();
  #nextId = 1;

  /** @param say when the browser lets no window be opened */
  constructor(readonly say: (blocked: WindowKind) => void) {}

  readonly subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  readonly snapshot = (): readonly OwnWindow[] => this.#all;

  /** Opens one; from a click, since browsers open none else. A peek that is open already comes to the front. */
  async open(kind: WindowKind): Promise<void> {
    const there = kind === 'peek' && this.#all.find((one) => one.kind === kind);
    if (there) return there.window.focus();
    const opened = await this.#window(kind);
    if (!opened) return this.say(kind);
    const own: OwnWindow = { id: `${kind}-${this.#nextId++}`, kind, window: opened };
    dress(opened);
    // A closed window tells the one that opened it nothing else.
    opened.addEventListener('pagehide', () => this.close(own.id));
    this.#set([...this.#all, own]);
  }

  close(id: string): void {
    const own = this.#all.find((one) => one.id === id);
    if (!own) return;
    this.#set(this.#all.filter((one) => one !== own));
    own.window.close();
  }

  closeAll(): void {
    for (const { id } of [...this.#all]) this.close(id);
  }

  async #window(kind: WindowKind): Promise<Window | null> {
    const size = SIZES[kind];
    const above = (window as { documentPictureInPicture?: PictureInPicture }).documentPictureInPicture;
    // On top of everything but a game that has the screen to itself.
    if (kind === 'peek' && above)
      try {
        return await above.requestWindow(size);
      } catch {
        // Not in this window, or not now: a small one does.
      }
    return window.open('', '_blank', `popup,width=${size.width},height=${size.height}`);
  }

  #set(all: readonly OwnWindow[]): void {
    this.#all = all;
    for (const listener of this.#listeners) listener();
  }
}

/** The studio's own look: its style sheets and theme, which an empty window does not have. */
function dress({ document: empty }: Window): void {
  for (const sheet of document.querySelectorAll('link[rel=stylesheet], style'))
    empty.head.append(empty.importNode(sheet, true));
  // Rules that were put in by script stand in no text.
  for (const sheet of document.styleSheets) {
    const { ownerNode } = sheet;
    if (!(ownerNode instanceof HTMLStyleElement) || ownerNode.textContent !== '') continue;
    const copy = empty.createElement('style');
    copy.textContent = [...sheet.cssRules].map(({ cssText }) => cssText).join('\n');
    empty.head.append(copy);
  }
  empty.documentElement.lang = document.documentElement.lang;
  empty.documentElement.dataset.theme = document.documentElement.dataset.theme;
  empty.body.className = 'own-window';
}
