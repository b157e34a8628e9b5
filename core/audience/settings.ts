/** What a show lets through to the picture, and in what money it counts. */
import type { NameStyle } from './words';
import type { Rates } from './money';

export interface AudienceSettings {
  /** Money is counted in this currency; goals and alert rules too. */
  currency: string;
  /** Worth of one main unit of other currencies; what has none is shown but not counted. */
  rates: Rates;
  /** How viewers are named on the picture. */
  names: NameStyle;
  /** Names are masked in the studio's own lists too, for when the studio itself is seen. */
  maskLists: boolean;
  /** Messages that begin with an exclamation mark stay off the picture. */
  hideCommands: boolean;
  /** Names that stay off the picture, whatever platform. */
  hiddenViewers: string[];
  blockedWords: string[];
  maskLinks: boolean;
  /** Chat waits so long before it is on the picture, so that moderation can act. */
  holdSeconds: number;
  /** No alert begins while one of these is on air; they wait. */
  quietSceneIds: string[];
}

export const START_AUDIENCE: AudienceSettings = {
  currency: 'EUR',
  rates: {},
  names: 'full',
  maskLists: false,
  hideCommands: true,
  hiddenViewers: [],
  blockedWords: [],
  maskLinks: true,
  holdSeconds: 0,
  quietSceneIds: [],
};
