import type { ComponentType } from 'react';
import type { ShowDocument } from '~/core/show/document';
import type { InputSource } from '~/core/show/input-kinds';
import type { InputRecord } from '~/core/show/records';
import type { useAdd } from './use-add';
import { useStage } from './stage-context';
import { useTranslation, type Translate } from '../words/words';

export interface InputFieldsProps<S> {
  input: InputRecord;
  source: S;
  /** The device or file does not give what was asked. */
  failed: boolean;
  /** @param what was changed, as it stands in the history */
  set: (what: string, next: S) => void;
}

/** What bringing in a kind can use. */
export type AddWays = ReturnType<typeof useAdd> & {
  document: ShowDocument;
  sceneId: string;
  t: Translate;
  /** Opens the list of cameras. */
  chooseCamera: () => void;
  askFiles: (kind: FileAsk) => void;
};
export type FileAsk = 'any' | 'clips' | 'slides';

/** A line of the menu that adds inputs. */
export interface InputOffer {
  /** Its place in the menu, lowest first. */
  rank: number;
  words: (t: Translate) => string;
  /** The menu stays open: another page of it comes. */
  stays?: boolean;
  bring: (ways: AddWays) => void;
}

/** What Stage has for one kind of input. */
export interface InputPart<S extends InputSource = InputSource> {
  type: S['type'];
  Fields: ComponentType<InputFieldsProps<S>>;
  offers?: readonly InputOffer[];
}

/** Each file in `inputs` is found by itself, so that another kind touches nothing here. */
const found = import.meta.glob<InputPart>('./inputs/*.tsx', { eager: true, import: 'part' });
const PARTS = new Map(Object.values(found).map((part) => [part.type, part]));

/** All that can be brought in, in the order of the menu. */
export const INPUT_OFFERS: readonly InputOffer[] = [...PARTS.values()]
  .flatMap(({ offers }) => offers ?? [])
  .sort((a, b) => a.rank - b.rank);

/** Settings of what an input takes its picture from. */
export function SourceFields({ input, failed }: { input: InputRecord; failed: boolean }) {
  const { t } = useTranslation();
  const { edit } = useStage();
  const { source } = input;
  const Fields = PARTS.get(source.type)?.Fields;
  if (!Fields) return null;
  return (
    <Fields
      input={input}
      source={source}
      failed={failed}
      set={(what, next) =>
        void edit(t('layout.whatOfName', { what, name: input.name }), [{ ...input, source: next }])
      }
    />
  );
}
