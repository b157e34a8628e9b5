import CloseRounded from '@mui/icons-material/CloseRounded';
import PlayArrowRounded from '@mui/icons-material/PlayArrowRounded';
import TuneRounded from '@mui/icons-material/TuneRounded';
import Popover from '@mui/material/Popover';
import { useState } from 'react';
import { transitionFor } from '~/core/motion/programme';
import { findRecord, recordsOf } from '~/core/show/document';
import {
  CUT,
  FADE,
  SIDES,
  TRANSITIONS,
  type Transition,
  type TransitionType,
} from '~/core/show/motion-records';
import { ColourField } from '../studio/colour-field';
import { NumberField } from '../studio/number-field';
import { SmallButton } from '../studio/small-button';
import { useNewest } from '../studio/use-newest';
import { useDesk, useStudio } from '../studio/studio-context';
import { TimingFields } from '../studio/timing-fields';
import { useTranslation } from '../words/words';
import { StingerFields } from './stinger-fields';
import { FieldHeading } from './field-layout';
import { useStage } from './stage-context';

const WORDS: Record<TransitionType, string> = {
  cut: 'Cut',
  fade: 'Fade',
  dip: 'Dip to a colour',
  wipe: 'Wipe',
  slide: 'Slide',
  zoom: 'Zoom',
  carry: 'Carry shared layers',
  stinger: 'Stinger',
};
const FROM_WORDS = {
  left: 'From the left',
  right: 'From the right',
  top: 'From above',
  bottom: 'From below',
};

/** Of another kind, with a time to see it by. */
function ofType(before: Transition, type: TransitionType): Transition {
  if (type === 'cut') return CUT;
  // A stinger is as long as its clip, and runs evenly.
  if (type === 'stinger')
    return { ...before, type, easing: 'linear', seconds: before.stinger?.seconds ?? FADE.seconds };
  if (before.type === 'stinger') return { ...before, type, easing: FADE.easing, seconds: FADE.seconds };
  return { ...before, type, seconds: before.seconds || FADE.seconds };
}

function TypeSelect({
  label,
  value,
  other,
  onChange,
}: {
  label: string;
  value: TransitionType | '';
  /** What stands for no kind of its own; left out where there must be one. */
  other?: string;
  onChange: (type: TransitionType | null) => void;
}) {
  return (
    <select
      aria-label={label}
      className="plain-select fits"
      value={value}
      onChange={(e) => onChange(e.target.value === '' ? null : (e.target.value as TransitionType))}
    >
      {other !== undefined && <option value="">{other}</option>}
      {TRANSITIONS.map((type) => (
        <option key={type} value={type}>
          {WORDS[type]}
        </option>
      ))}
    </select>
  );
}

/** How the scene comes on air: its own way or the show's, and ways of their own after particular scenes. */
export function TransitionChoice() {
  const { document, scene, pose, edit } = useStage();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const show = recordsOf(document, 'show')[0];
  const { desk } = useStudio();
  const { t } = useTranslation();
  const onAirId = useDesk((now) => now.onAirSceneId);
  const own = scene.transition;
  // From what is on air; while that is this one, from the scene before it.
  const scenes = recordsOf(document, 'scene');
  const at = scenes.findIndex(({ id }) => id === scene.id);
  const from =
    scenes.find(({ id }) => id === onAirId && id !== scene.id) ?? scenes[at - 1] ?? scenes[at + 1] ?? null;
  const play = () =>
    from &&
    desk.tryOut({
      from: { sceneId: from.id, poseId: null },
      to: { sceneId: scene.id, poseId: pose?.id ?? null },
      transition: transitionFor(document, from.id, scene.id),
      onlyLayer: null,
    });
  const set = (transition: Transition | null) =>
    edit(t('layout.transitionOfName', { name: scene.name }), [{ ...scene, transition }]);
  return (
    <>
      <span style={{ color: 'var(--quiet)', fontSize: 12.5, whiteSpace: 'nowrap' }}>
        {t('layout.transition')}
      </span>
      <TypeSelect
        label={t('layout.transition')}
        value={own?.type ?? ''}
        other={`Show default (${WORDS[show.transition.type]})`}
        onChange={(type) => set(type && ofType(own ?? show.transition, type))}
      />
      {own && own.type !== 'cut' && own.type !== 'stinger' && (
        <div style={{ width: 128 }}>
          <NumberField
            label={t('layout.duration')}
            unit="ms"
            value={own.seconds * 1000}
            min={50}
            max={10_000}
            step={50}
            onCommit={(ms) => set({ ...own, seconds: ms / 1000 })}
          />
        </div>
      )}
      <SmallButton
        label={t('try.transition')}
        title={t('try.transitionHint')}
        disabled={!from}
        onClick={play}
      >
        <PlayArrowRounded />
      </SmallButton>
      <SmallButton
        label={t('layout.moreAboutTransitions')}
        title={t('layout.easingDirectionAndColourOverrides')}
        onClick={(e) => setAnchor(e.currentTarget)}
      >
        <TuneRounded />
      </SmallButton>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'top', horizontal: 'left' }}
        transformOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      >
        <div
          role="group"
          aria-label={t('layout.transitions')}
          style={{ padding: '4px 14px 14px', width: 380 }}
        >
          <FieldHeading>{t('layout.transitionToName', { name: scene.name })}</FieldHeading>
          {own === null ? (
            <p className="quiet-note">{t('layout.theShowsDefaultChooseAnother')}</p>
          ) : (
            <TransitionFields transition={own} onChange={set} />
          )}
          <PairFields />
          <FieldHeading>{t('layout.theShowWhereAScene')}</FieldHeading>
          <div style={{ display: 'grid', gap: 6 }}>
            <TypeSelect
              label={t('layout.transitionOfTheShow')}
              value={show.transition.type}
              onChange={(type) =>
                type &&
                edit(t('layout.transitionOfTheShow'), [
                  { ...show, transition: ofType(show.transition, type) },
                ])
              }
            />
            <TransitionFields
              transition={show.transition}
              onChange={(transition) => edit(t('layout.transitionOfTheShow'), [{ ...show, transition }])}
            />
          </div>
        </div>
      </Popover>
    </>
  );
}

function TransitionFields({
  transition,
  onChange,
}: {
  transition: Transition;
  onChange: (transition: Transition) => void;
}) {
  const { t } = useTranslation();
  const { type, side, colour } = transition;
  const set = useNewest(transition, onChange);
  if (type === 'stinger') return <StingerFields transition={transition} onChange={onChange} />;
  if (type === 'cut') return <p className="quiet-note">{t('layout.atOnceWithTheNext')}</p>;
  return (
    <div style={{ display: 'grid', gap: 6 }}>
      <TimingFields
        timing={transition}
        least={0.05}
        onChange={({ seconds, easing }) => set({ seconds, easing })}
      />
      {(type === 'wipe' || type === 'slide') && (
        <select
          aria-label={t('layout.whereItComesFrom')}
          className="plain-select"
          value={side}
          onChange={(e) => set({ side: e.target.value as Transition['side'] })}
        >
          {SIDES.map((s) => (
            <option key={s} value={s}>
              {FROM_WORDS[s]}
            </option>
          ))}
        </select>
      )}
      {type === 'dip' && (
        <ColourField
          label={t('layout.colourItGoesThrough')}
          value={colour}
          onChange={(next) => set({ colour: next })}
        />
      )}
      {type === 'carry' && <p className="quiet-note">{t('layout.whatBothScenesShowMoves')}</p>}
    </div>
  );
}

/** Ways of its own after particular scenes. */
function PairFields() {
  const { t } = useTranslation();
  const { document, scene, edit } = useStage();
  const scenes = recordsOf(document, 'scene').filter((s) => s.id !== scene.id);
  const pairs = Object.entries(scene.transitionAfter).filter(([id]) => findRecord(document, 'scene', id));
  const free = scenes.filter((s) => !scene.transitionAfter[s.id]);
  const set = (id: string, transition: Transition | null) => {
    const transitionAfter = { ...scene.transitionAfter };
    if (transition) transitionAfter[id] = transition;
    else delete transitionAfter[id];
    edit(`Transition of ${scene.name} after ${findRecord(document, 'scene', id)?.name}`, [
      { ...scene, transitionAfter },
    ]);
  };
  return (
    <>
      <FieldHeading>{t('layout.overridesByPreviousScene')}</FieldHeading>
      {pairs.map(([id, transition]) => {
        const name = findRecord(document, 'scene', id)!.name;
        return (
          <div key={id} role="group" aria-label={t('layout.afterName', { name })} style={{ marginBottom: 8 }}>
            <div style={{ display: 'flex', alignItems: 'center', gap: 6, marginBottom: 4 }}>
              <span style={{ flex: 1, fontSize: 13 }}>{t('layout.afterName', { name })}</span>
              <TypeSelect
                label={t('layout.transitionAfterName', { name })}
                value={transition.type}
                onChange={(type) => type && set(id, ofType(transition, type))}
              />
              <SmallButton
                label={t('layout.removeTheOverrideAfterName', { name })}
                onClick={() => set(id, null)}
              >
                <CloseRounded />
              </SmallButton>
            </div>
            {transition.type !== 'cut' && (
              <TransitionFields transition={transition} onChange={(next) => set(id, next)} />
            )}
          </div>
        );
      })}
      {free.length > 0 && (
        <select
          aria-label={t('layout.addOverride')}
          className="plain-select"
          style={{ width: '100%' }}
          value=""
          onChange={(e) => set(e.target.value, scene.transition ?? FADE)}
        >
          <option value="">{t('layout.addOverride2')}</option>
          {free.map((s) => (
            <option key={s.id} value={s.id}>
              {s.name}
            </option>
          ))}
        </select>
      )}
    </>
  );
}
