/** Address of a stored file; whole, since workers have no page to start from. */
export function assetUrl(assetId: string): string {
  return new URL(`/files/assets/${assetId}`, location.origin).href;
}
