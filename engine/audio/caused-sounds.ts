/** Sounds that nobody presses for: they come with an alert or a stinger, through the channel of the effects. */
import { recordsOf, type ShowDocument } from '../../core/show/document';
import { stingersOf } from '../../core/motion/programme';
import type { BankSound } from './effect-bank';

export function stingerSounds(document: ShowDocument): BankSound[] {
  return [...stingersOf(document).values()].flatMap(({ assetId, name, sounds, gainDb }) =>
    sounds
      ? [{ id: `stinger ${assetId}`, name, source: { type: 'file', assetId }, gainDb, repeat: 'restart' }]
      : [],
  );
}

export function alertSounds(document: ShowDocument): BankSound[] {
  return recordsOf(document, 'alertRule').flatMap(({ id, name, sound, soundGainDb }) =>
    sound ? [{ id, name: `sound of ${name}`, source: sound, gainDb: soundGainDb, repeat: 'overlap' }] : [],
  );
}
