/**
 * Loader of the RNNoise module (Valin, "A Hybrid DSP/Deep Learning Approach to Real-Time Full-Band Speech Enhancement",
 * 2018), as built with SIMD by @shiguredo/rnnoise-wasm 2022.2.0. The same bytes run in the sound thread and in Node, and give the same bits.
 */

/** Samples of one call, 10 ms at 48 kHz. */
export const RNNOISE_FRAMES = 480;

/** The part of WebAssembly that is used: this folder knows no browser types. */
interface WebAssemblyLike {
  Module: new (bytes: ArrayBuffer | Uint8Array) => object;
  Instance: new (module: object, imports: object) => { exports: Record<string, unknown> };
}
declare const WebAssembly: WebAssemblyLike;

/** One channel's denoiser. */
export interface Denoiser {
  /** Denoises `RNNOISE_FRAMES` samples in place, −1…1; the result is late by as many. */
  process(frame: Float32Array): void;
  close(): void;
}

interface Exports {
  memory: { buffer: ArrayBuffer };
  create(model: number): number;
  malloc(bytes: number): number;
  destroy(state: number): void;
  free(at: number): void;
  run(state: number, out: number, input: number): number;
}

/** One instance of the module; as many denoisers as wanted. */
export class RnnoiseModule {
  readonly #exports: Exports;

  /** @throws Error when the bytes are not the module */
  constructor(bytes: ArrayBuffer | Uint8Array) {
    let bytesOfMemory = new Uint8Array(0);
    const instance = new WebAssembly.Instance(new WebAssembly.Module(bytes), {
      env: {
        // The start size takes dozens of denoisers; growing would move the views.
        emscripten_resize_heap: () => 0,
        emscripten_memcpy_big: (to: number, from: number, count: number) =>
          void bytesOfMemory.copyWithin(to, from, from + count),
        __assert_fail: () => {
          throw new Error('the noise reduction failed a check of its own');
        },
      },
    });
    const e = instance.exports as Record<string, (...values: number[]) => number>;
    const memory = instance.exports.memory as { buffer: ArrayBuffer };
    bytesOfMemory = new Uint8Array(memory.buffer);
    e.emscripten_stack_init();
    e.__wasm_call_ctors();
    this.#exports = {
      memory,
      create: e.rnnoise_create,
      malloc: e.malloc,
      destroy: e.rnnoise_destroy,
      free: e.free,
      run: e.rnnoise_process_frame,
    };
  }

  open(): Denoiser {
    const { memory, create, malloc, destroy, free, run } = this.#exports;
    const state = create(0);
    const at = malloc(RNNOISE_FRAMES * 4);
    if (state === 0 || at === 0) throw new Error('no memory is left for another noise reduction');
    const view = new Float32Array(memory.buffer, at, RNNOISE_FRAMES);
    return {
      process(frame) {
        // The model was trained on 16-bit values.
        for (let i = 0; i < RNNOISE_FRAMES; i++) view[i] = frame[i] * 32_768;
        run(state, at, at);
        for (let i = 0; i < RNNOISE_FRAMES; i++) frame[i] = view[i] / 32_768;
      },
      close() {
        destroy(state);
        free(at);
      },
    };
  }
}
