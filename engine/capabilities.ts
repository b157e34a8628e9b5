/** What the studio cannot do without and this browser does not have; empty when all is there. */
export function missingInBrowser(): string[] {
  const needs: [string, boolean][] = [
    ['encoding pictures (WebCodecs VideoEncoder)', typeof VideoEncoder !== 'undefined'],
    ['decoding pictures (WebCodecs VideoDecoder)', typeof VideoDecoder !== 'undefined'],
    [
      'frames of cameras and screens (MediaStreamTrackProcessor)',
      typeof MediaStreamTrackProcessor !== 'undefined',
    ],
    ['drawing in workers (OffscreenCanvas)', typeof OffscreenCanvas !== 'undefined'],
    ['a sound thread (AudioWorklet)', typeof AudioWorkletNode !== 'undefined'],
    [
      'shared memory (cross-origin isolation)',
      typeof SharedArrayBuffer !== 'undefined' && crossOriginIsolated,
    ],
  ];
  return needs.filter(([, there]) => !there).map(([name]) => name);
}
