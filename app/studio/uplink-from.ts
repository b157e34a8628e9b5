/**
 * Where this page's desk sends its pictures and sound: to the relay itself on the studio's own computer; from another one,
 * which cannot reach that, through the address the page came from.
 *
 * @param uplinkUrl of the relay, as the studio's own computer knows it
 * @param page where the page came from
 */
export function uplinkFrom(uplinkUrl: string, page: Pick<Location, 'host' | 'hostname'>): string {
  return page.hostname === new URL(uplinkUrl).hostname ? uplinkUrl : `wss://${page.host}/uplink`;
}
