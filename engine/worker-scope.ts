/** The global scope of a dedicated worker, as far as it is used; the DOM library types describe a window. */
interface WorkerScope {
  postMessage(message: unknown, transfer?: Transferable[]): void;
  onmessage: ((event: MessageEvent) => void) | null;
  readonly fonts: FontFaceSet;
}

export const workerScope = globalThis as unknown as WorkerScope;
