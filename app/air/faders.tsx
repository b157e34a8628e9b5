import TuneRounded from '@mui/icons-material/TuneRounded';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import { changedChannels } from '~/core/programme/programme-state';
import { recordsOf } from '~/core/show/document';
import type { ChannelRecord } from '~/core/show/records';
import { ActionMenu } from '../sound/action-menu';
import { EchoNotice } from '../sound/echo-notice';
import { LevelAndMute } from '../sound/level-and-mute';
import { MeterTrack } from '../sound/meter-track';
import { SoundSwitches } from '../sound/sound-switches';
import { levelText, useProgramme } from '../sound/use-readings';
import { useDesk, useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

const shownKey = (showId: string) => `dolomite.faders.${showId}`;

/** Channels that stand on On air of this computer: the first four, until somebody chooses. */
function useShownChannels(): [readonly ChannelRecord[], readonly ChannelRecord[], (ids: string[]) => void] {
  const { showId } = useStudio();
  const all = recordsOf(useDocument(), 'channel');
  const [chosen, setChosen] = useState<readonly string[] | null>(() => {
    const kept = localStorage.getItem(shownKey(showId));
    return kept === null ? null : kept.split(',');
  });
  const shown = chosen === null ? all.slice(0, 4) : all.filter(({ id }) => chosen.includes(id));
  return [
    all,
    shown,
    (ids) => {
      localStorage.setItem(shownKey(showId), ids.join());
      setChosen(ids);
    },
  ];
}

/** The faders that matter, the switches, and what of them is not as the show starts. */
export function Faders() {
  const { control } = useStudio();
  const [all, shown, choose] = useShownChannels();
  const programme = useDesk((now) => now.programme);
  const { t } = useTranslation();
  const changed = changedChannels(programme, all);
  return (
    <div className="air-faders">
      <div className="sound-bar">
        <ActionMenu
          label={t('air.chooseChannels')}
          words={<TuneRounded sx={{ fontSize: 16, verticalAlign: '-4px' }} />}
          className="chip tall"
        >
          {() =>
            all.map((channel) => {
              const on = shown.some(({ id }) => id === channel.id);
              return (
                <MenuItem
                  key={channel.id}
                  role="menuitemcheckbox"
                  aria-checked={on}
                  onClick={() =>
                    choose(
                      all.flatMap(({ id }) =>
                        (id === channel.id ? !on : shown.some((one) => one.id === id)) ? [id] : [],
                      ),
                    )
                  }
                >
                  <Checkbox size="small" checked={on} tabIndex={-1} sx={{ py: 0 }} />
                  {channel.name}
                </MenuItem>
              );
            })
          }
        </ActionMenu>
        <span className="room" />
        <button
          type="button"
          className="chip tall"
          aria-pressed={programme.onlyVoices}
          data-tone={programme.onlyVoices ? 'rose' : undefined}
          title="O"
          onClick={() => void control.press({ command: 'onlyVoices', params: {} }, 'page')}
        >
          {t('air.onlyVoices')}
        </button>
        <SoundSwitches />
      </div>
      <EchoNotice />
      <div className="air-channels">
        {shown.map((channel) => (
          <Fader key={channel.id} channel={channel} />
        ))}
        <ProgrammeLine />
      </div>
      {changed.length > 0 && (
        <div className="air-changed">
          <span>{t('air.changed', { count: changed.length })}</span>
          <Button onClick={() => control.keepAsStart()}>{t('air.keepAsStart')}</Button>
          <Button onClick={() => control.backToStart()}>{t('air.backToStart')}</Button>
        </div>
      )}
    </div>
  );
}

function Fader({ channel }: { channel: ChannelRecord }) {
  return (
    <div className="air-fader">
      <span className="one-line" title={channel.name}>
        {channel.name}
      </span>
      <LevelAndMute channel={channel} />
    </div>
  );
}

function ProgrammeLine() {
  const { t } = useTranslation();
  const { desk } = useStudio();
  const momentary = useProgramme(({ momentaryLufs }) => levelText(momentaryLufs, ''));
  return (
    <div className="air-fader">
      <b>{t('shell.programme')}</b>
      <MeterTrack aside name="the programme" read={() => desk.readProgramme()} gainDb={0} muted={false} />
      <span className="figure air-lufs">{momentary}</span>
    </div>
  );
}
