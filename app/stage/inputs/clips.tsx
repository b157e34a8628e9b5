import type { ClipsInput } from '~/core/show/inputs/clips';
import { ChoiceRow } from '../../studio/choice-row';
import { Toggle } from '../../studio/toggle';
import { FileRows } from '../file-rows';
import { FileCost } from '../heavy-media';
import type { InputFieldsProps, InputPart } from '../input-parts';

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
  return (
    <div style={{ display: 'grid', gap: 8 }}>
      <FileRows files={source.files} kind="clips" onChange={(files) => set('Files', { ...source, files })} />
      {source.files.slice(0, MAX_COSTS).map((file) => (
        <FileCost
          key={file.assetId}
          input={input}
          file={file}
          onReplace={(lighter) =>
            set('Lighter copy', {
              ...source,
              files: source.files.map((f) => (f.assetId === file.assetId ? lighter : f)),
            })
          }
        />
      ))}
      <ChoiceRow
        label="At the end"
        options={[
          { value: 'loop', words: 'Loop', title: 'Begin again' },
          { value: 'stop', words: 'Stop', title: 'Hold last frame' },
          { value: 'next', words: 'Next scene', title: 'Bring the next scene on air' },
        ]}
        value={source.atEnd}
        onChange={(atEnd) => set('End', { ...source, atEnd })}
      />
      <ChoiceRow
        label="Begins"
        options={[
          { value: 'on-air', words: 'When it comes on air' },
          { value: 'always', words: 'Always running' },
        ]}
        value={source.start}
        onChange={(start) => set('Start', { ...source, start })}
      />
      {source.files.length > 1 && (
        <Toggle
          label="Shuffled"
          on={source.order === 'shuffled'}
          onChange={(on) => set('Order', { ...source, order: on ? 'shuffled' : 'listed' })}
        />
      )}
    </div>
  );
}
