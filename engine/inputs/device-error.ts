/** Plain words for what getUserMedia and getDisplayMedia throw (Media Capture and Streams §10). */
export function explainDeviceError(error: unknown, what: string): string {
  const name = error instanceof DOMException ? error.name : '';
  switch (name) {
    case 'NotAllowedError':
    case 'SecurityError':
      return `${what} was not allowed: allow it in the browser's address bar, then try again`;
    case 'NotFoundError':
    case 'OverconstrainedError':
      return `${what} is missing: plug it in, or choose another device; it returns automatically`;
    case 'NotReadableError':
    case 'AbortError':
      return `${what} is in use by another program: close that; it returns automatically`;
    default:
      return `${what} cannot be opened: ${error instanceof Error ? error.message : String(error)}`;
  }
}
