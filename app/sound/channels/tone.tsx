import { LINE_UP, TONE_RANGES, TONE_SIGNALS, type ToneChannel } from '~/core/show/channels/tone';
import { ChoiceRow } from '../../studio/choice-row';
import { NumberField } from '../../studio/number-field';
import { Toggle } from '../../studio/toggle';
import { useTranslation } from '../../words/words';
import { useChannelEdit } from '../channel-edit';
import type { ChannelFieldsProps, ChannelPart } from '../channel-parts';

export const part: ChannelPart<ToneChannel> = {
  type: 'tone',
  Fields: ToneFields,
  offer: {
    words: (t) => t('testTone.add'),
    once: false,
    // Nobody's ears, and no broadcast, get it before somebody wants it.
    make: (t) => ({ name: t('testTone.name'), source: LINE_UP, muted: true }),
  },
};

function ToneFields({ channel, source }: ChannelFieldsProps<ToneChannel>) {
  const { t } = useTranslation();
  const { edit } = useChannelEdit(channel);
  const set = (what: string, part: Partial<ToneChannel>) => edit(what, { source: { ...source, ...part } });
  return (
    <>
      <ChoiceRow
        label={t('testTone.signal')}
        options={TONE_SIGNALS.map((value) => ({ value, words: t(`testTone.of.${value}`) }))}
        value={source.signal}
        onChange={(signal) => set(t('testTone.signal'), { signal })}
      />
      <NumberField
        label={t('testTone.level')}
        unit="dBFS"
        digits={1}
        value={source.levelDb}
        {...(source.signal === 'pink' ? TONE_RANGES.noiseDb : TONE_RANGES.levelDb)}
        onCommit={(levelDb) => set(t('testTone.level'), { levelDb })}
      />
      {source.signal === 'sine' && (
        <NumberField
          label={t('testTone.frequency')}
          unit="Hz"
          value={source.hz}
          {...TONE_RANGES.hz}
          onCommit={(hz) => set(t('testTone.frequency'), { hz })}
        />
      )}
      <Toggle
        label={t('testTone.ident')}
        on={source.ident}
        onChange={(ident) => set(t('testTone.ident'), { ident })}
      />
      <p className="hint">{t('testTone.hint')}</p>
    </>
  );
}
