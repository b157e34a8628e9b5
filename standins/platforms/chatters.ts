import { seededRandom } from '../inputs/random';

const HANDLES = [
  'switchman_42',
  'mossbell',
  'tinlantern',
  'pinecairn',
  'gravelpath',
  'oxbow_lane',
  'wetslate',
  'quarry.kid',
  'fogwhistle',
  'ledger_moth',
  'third_sleeper',
  'copperkettle',
] as const;
const COLOURS = ['#63BDBB', '#E2AE45', '#E39A88', '#83B168', '#A7C7E0', '#D8B4E2'] as const;
const LINES = [
  'take the left spur, the right one floods every time',
  'snow on the pass!',
  'hold freight 12, express is late',
  'is that a new signal?',
  'the bells at night are lovely',
  'left left left',
  'told you',
  'that brake van has seen things',
  'how far to Hut Nine?',
  'the roof is nearly there, well done everyone',
  'first time here, what are the levers for?',
  'red means tea',
  'vote for the long way round',
  'my grandmother ran a box like that',
  'that was a clean stop',
  'I could watch the snow for hours',
] as const;

export interface ScriptedLine {
  /** Seconds after the one before. */
  wait: number;
  viewer: string;
  text: string;
  colour: string;
  follow: boolean;
}

/** An evening of made-up viewers: the same seed gives the same evening. */
export function* scriptedEvening(seed: number): Generator<ScriptedLine> {
  const random = seededRandom(seed);
  let deck: number[] = [];
  for (let n = 1; ; n++) {
    const who = Math.floor(random() * HANDLES.length);
    // Dealt like cards, so that nothing is said again before everything was.
    if (deck.length === 0) deck = LINES.map((_, i) => i);
    const [line] = deck.splice(Math.floor(random() * deck.length), 1);
    yield {
      wait: 1.5 + random() * 5,
      viewer: HANDLES[who],
      text: LINES[line],
      colour: COLOURS[who % COLOURS.length],
      follow: n % 14 === 0,
    };
  }
}
