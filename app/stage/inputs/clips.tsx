import type { ClipsInput } from '~/core/show/inputs/clips';
import { ChoiceRow } from '../../studio/choice-row';
import { Toggle } from '../../studio/toggle';
import { FileRows } from '../file-rows';
import { FileCost } from '../heavy-media';
import type { InputFieldsProps, InputPart } from '../input-parts';
import { useTranslation } from '../../words/words';

export const part: InputPart<ClipsInput> = {
  type: 'clips',
  Fields: ClipsFields,
  offers: [
    { rank: 4, words: (t) => t('addInput.file'), bring: (ways) => ways.askFiles('any') },
    { rank: 5, words: (t) => t('addInput.playlist'), bring: (ways) => ways.askFiles('clips') },
  ],
};

/** Files of a playlist whose cost is looked at: each is asked for. */
const MAX_COSTS = 12;

function ClipsFields({ input, source, set }: InputFieldsProps<ClipsInput>) {
  const { t } = useTranslation();
  return (
    <div style={{ display: 'grid', gap: 8 }}>
      <FileRows
        files={source.files}
        kind="clips"
        onChange={(files) => set(t('kinds.files'), { ...source, files })}
      />
      {source.files.slice(0, MAX_COSTS).map((file) => (
        <FileCost
          key={file.assetId}
          input={input}
          file={file}
          onReplace={(lighter) =>
            set(t('kinds.lighterCopy'), {
              ...source,
              files: source.files.map((f) => (f.assetId === file.assetId ? lighter : f)),
            })
          }
        />
      ))}
      <ChoiceRow
        label={t('kinds.atTheEnd')}
        options={[
          { value: 'loop', words: t('kinds.loop'), title: t('kinds.beginAgain') },
          { value: 'stop', words: t('kinds.stop'), title: t('kinds.holdLastFrame') },
          { value: 'next', words: t('kinds.nextScene'), title: t('kinds.bringTheNextSceneOn') },
        ]}
        value={source.atEnd}
        onChange={(atEnd) => set(t('kinds.end'), { ...source, atEnd })}
      />
      <ChoiceRow
        label={t('kinds.begins')}
        options={[
          { value: 'on-air', words: t('kinds.whenItComesOnAir') },
          { value: 'always', words: t('kinds.alwaysRunning') },
        ]}
        value={source.start}
        onChange={(start) => set(t('kinds.start'), { ...source, start })}
      />
      {source.files.length > 1 && (
        <Toggle
          label={t('kinds.shuffled')}
          on={source.order === 'shuffled'}
          onChange={(on) => set(t('kinds.order'), { ...source, order: on ? 'shuffled' : 'listed' })}
        />
      )}
    </div>
  );
}
