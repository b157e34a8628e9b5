import CloseRounded from '@mui/icons-material/CloseRounded';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import type { Press } from '~/core/commands/commands';
import { findRecord, recordsOf } from '~/core/show/document';
import { FADE, TRANSITIONS, type TransitionType } from '~/core/show/motion-records';
import { posesOf } from '~/core/show/poses';
import { SEGMENT_ENDS, type SegmentRecord, type SegmentSound } from '~/core/show/rundown-records';
import { FADER_MAX_DB, FADER_MIN_DB } from '~/core/sound/decibel';
import { newPress, PressFields } from '../commands/press-fields';
import { pressWords } from '../commands/press-words';
import { ActionMenu } from '../sound/action-menu';
import { CommitField } from '../studio/commit-field';
import { NumberField } from '../studio/number-field';
import { SelectField } from '../studio/select-field';
import { SmallButton } from '../studio/small-button';
import { steady } from '../studio/steady';
import { useDocument, useRecords, useStore, useStudio } from '../studio/studio-context';
import { Toggle } from '../studio/toggle';
import { useTranslation } from '../words/words';
import { LengthField } from './length-field';

const named = (list: readonly { id: string; name: string }[]) =>
  list.map(({ id, name }) => ({ value: id, words: name }));

/** Everything a segment does when it comes on. */
export function SegmentFields({ segment }: { segment: SegmentRecord }) {
  const { store } = useStudio();
  const document = useDocument();
  const { t } = useTranslation();
  const set = (what: string, part: Partial<SegmentRecord>) =>
    store.edit(`${what} of ${segment.name}`, [{ ...segment, ...part }]);
  const scenes = recordsOf(document, 'scene');
  const scene = findRecord(document, 'scene', segment.sceneId);
  const poses = scene ? posesOf(document, scene.id) : [];
  const titles = recordsOf(document, 'title');
  const { end, transition } = segment;
  return (
    <div className="plan-fields">
      <CommitField
        label={t('plan.segmentName')}
        value={segment.name}
        onCommit={(name) => set('Name', { name })}
      />
      <div className="two">
        <SelectField
          label={t('plan.scene')}
          value={segment.sceneId ?? ''}
          options={[
            { value: '', words: t('plan.sceneStays') },
            ...(segment.sceneId !== null && !scene
              ? [{ value: segment.sceneId, words: t('plan.sceneGone') }]
              : []),
            ...named(scenes),
          ]}
          onChange={(id) => set('Scene', { sceneId: id || null, poseId: null })}
        />
        <SelectField
          label={t('plan.pose')}
          value={poses.find(({ id }) => id === segment.poseId)?.id ?? ''}
          disabled={poses.length < 2}
          options={[{ value: '', words: t('plan.firstPose') }, ...named(poses)]}
          onChange={(id) => set('Pose', { poseId: id || null })}
        />
      </div>
      <div className="two">
        <LengthField
          seconds={segment.plannedSeconds}
          onCommit={(plannedSeconds) => set('Length', { plannedSeconds })}
        />
        <SelectField
          label={t('plan.movesOn')}
          value={end.type}
          options={SEGMENT_ENDS.map((value) => ({ value, words: t(`plan.end.${value}`) }))}
          onChange={(type) => set('End', { end: type === 'clock' ? { type, at: '21:00' } : { type } })}
        />
      </div>
      {end.type === 'clock' && (
        <TextField
          type="time"
          label={t('plan.at')}
          value={end.at}
          onChange={({ target }) =>
            target.value && set('End', { end: { type: 'clock', at: target.value.slice(0, 5) } })
          }
        />
      )}
      <div className="two">
        <SelectField<TransitionType | ''>
          label={t('plan.transition')}
          value={transition?.type ?? ''}
          options={[
            { value: '', words: t('plan.transitionDefault') },
            ...TRANSITIONS.filter((type) => type !== 'stinger' || transition?.type === 'stinger').map(
              (value) => ({ value, words: t(`plan.transitionTypes.${value}`) }),
            ),
          ]}
          onChange={(type) => {
            const seconds = type === 'cut' ? 0 : transition?.seconds || FADE.seconds;
            set('Transition', { transition: type === '' ? null : { ...FADE, ...transition, type, seconds } });
          }}
        />
        <NumberField
          label={t('plan.duration')}
          unit="s"
          digits={1}
          step={0.1}
          min={0.1}
          max={10}
          disabled={!transition || transition.type === 'cut'}
          value={transition && transition.type !== 'cut' ? transition.seconds : 0}
          onCommit={(seconds) => transition && set('Transition', { transition: { ...transition, seconds } })}
        />
      </div>
      <Sounds sound={segment.sound} onChange={(sound) => set('Sound', { sound })} />
      <SelectField
        label={t('plan.title')}
        value={titles.find(({ id }) => id === segment.titleId)?.id ?? ''}
        options={[{ value: '', words: t('plan.noTitle') }, ...named(titles)]}
        onChange={(id) => set('Title', { titleId: id || null })}
      />
      <Actions presses={segment.presses} onChange={(presses) => set('Actions', { presses })} />
      <CommitField
        label={t('plan.notes')}
        help={t('plan.notesHint')}
        value={segment.notes}
        lines={3}
        max={5000}
        allowEmpty
        onCommit={(notes) => set('Notes', { notes })}
      />
      <CommitField
        label={t('plan.group')}
        help={t('plan.groupHint')}
        value={segment.group}
        max={80}
        allowEmpty
        onCommit={(group) => set('Group', { group })}
      />
      {segment.group !== '' && (
        <Toggle
          label={t('plan.repeats')}
          on={segment.repeats}
          onChange={(repeats) => set('Loop', { repeats })}
        />
      )}
      <div className="two">
        <Toggle label={t('plan.fixed')} on={segment.fixed} onChange={(fixed) => set('Length', { fixed })} />
        <Toggle
          label={t('plan.skip')}
          on={segment.skipped}
          onChange={(skipped) => set('Skip', { skipped })}
        />
      </div>
    </div>
  );
}

/** Channels that a segment sets, each with a level it fades to and a mute. */
const Sounds = steady(function Sounds({
  sound: all,
  onChange,
}: {
  sound: readonly SegmentSound[];
  onChange: (sound: SegmentSound[]) => void;
}) {
  const channels = useRecords('channel');
  const { t } = useTranslation();
  const free = channels.filter(({ id }) => !all.some(({ channelId }) => channelId === id));
  const put = (at: number, part: Partial<SegmentSound>) =>
    onChange(all.map((one, i) => (i === at ? { ...one, ...part } : one)));
  return (
    <div>
      <div className="plan-head">
        <h3 className="small-head">{t('plan.sound')}</h3>
        <ActionMenu label={t('plan.addSound')} disabled={free.length === 0}>
          {(close) =>
            free.map((channel) => (
              <MenuItem
                key={channel.id}
                onClick={() => {
                  close();
                  const sound = { channelId: channel.id, gainDb: channel.gainDb, muted: null, seconds: 1 };
                  onChange([...all, sound]);
                }}
              >
                {channel.name}
              </MenuItem>
            ))
          }
        </ActionMenu>
      </div>
      {all.map((one, i) => {
        const name = channels.find(({ id }) => id === one.channelId)?.name ?? t('params.gone');
        return (
          <div key={one.channelId} className="segment-sound" role="group" aria-label={name}>
            <span className="one-line" title={name}>
              {name}
            </span>
            <NumberField
              label={t('plan.soundLevel', { name })}
              unit="dB"
              digits={1}
              min={FADER_MIN_DB}
              max={FADER_MAX_DB}
              value={one.gainDb ?? 0}
              onCommit={(gainDb) => put(i, { gainDb })}
            />
            <NumberField
              label={t('plan.soundFade', { name })}
              unit="s"
              digits={1}
              step={0.5}
              min={0}
              max={60}
              value={one.seconds}
              onCommit={(seconds) => put(i, { seconds })}
            />
            <SelectField
              bare
              label={t('plan.soundMuteOf', { name })}
              value={one.muted === null ? 'keep' : one.muted ? 'on' : 'off'}
              options={(['keep', 'on', 'off'] as const).map((value) => ({
                value,
                words: t(`plan.soundMute.${value}`),
              }))}
              onChange={(mute) => put(i, { muted: mute === 'keep' ? null : mute === 'on' })}
            />
            <SmallButton
              label={t('plan.removeSound', { name })}
              onClick={() => onChange(all.filter((_, at) => at !== i))}
            >
              <CloseRounded />
            </SmallButton>
          </div>
        );
      })}
    </div>
  );
});

/** Presses that are done when the segment comes on. */
const Actions = steady(function Actions({
  presses,
  onChange,
}: {
  presses: readonly Press[];
  onChange: (presses: Press[]) => void;
}) {
  const { store } = useStudio();
  const { t } = useTranslation();
  // As one text: it is the same as long as every name is.
  const names = useStore((now) =>
    presses.map((press) => pressWords(press, now.document())).join('\u001f'),
  ).split('\n');
  const [open, setOpen] = useState<number | null>(null);
  return (
    <div>
      <div className="plan-head">
        <h3 className="small-head">{t('plan.actions')}</h3>
        <Button
          disabled={presses.length >= 20}
          onClick={() => {
            onChange([...presses, newPress(store.document(), 'marker')]);
            setOpen(presses.length);
          }}
        >
          {t('plan.addAction')}
        </Button>
      </div>
      {presses.map((press, i) => (
        <div key={i} className="press-row">
          <div className="press-line">
            <button
              type="button"
              className="press-name"
              aria-expanded={open === i}
              onClick={() => setOpen(open === i ? null : i)}
            >
              {names[i]}
            </button>
            <SmallButton
              label={t('plan.removeAction', { name: names[i] })}
              onClick={() => onChange(presses.filter((_, at) => at !== i))}
            >
              <CloseRounded />
            </SmallButton>
          </div>
          {open === i && (
            <PressFields
              press={press}
              onChange={(next) => onChange(presses.map((p, at) => (at === i ? next : p)))}
            />
          )}
        </div>
      ))}
    </div>
  );
});
