import Popover from '@mui/material/Popover';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { recordsOf } from '~/core/show/document';
import type { ChannelRecord } from '~/core/show/records';
import { keepAbove } from '~/core/sound/keep-above';
import { NumberField } from '../studio/number-field';
import { useDocument, useStudio } from '../studio/studio-context';
import { BalanceChip } from './programme-panel';
import { useProgramme } from './use-readings';
import { useTranslation } from '../words/words';

const USUAL_DB = 12;

/** One press: everything else goes down while a voice speaks, by what was measured to be missing. */
export function KeepAboveButton({ voices }: { voices: readonly ChannelRecord[] }) {
  const { t } = useTranslation();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <button
        type="button"
        className="chip tall"
        aria-haspopup="dialog"
        disabled={voices.length === 0}
        onClick={(e) => setAnchor(e.currentTarget)}
      >
        {t('sound.voiceAboveTheRest')}
      </button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
        slotProps={{
          paper: { role: 'dialog', 'aria-label': 'Voice above the rest', sx: { p: 2, width: 330 } },
        }}
      >
        {anchor && <Fields voices={voices} />}
      </Popover>
    </>
  );
}

function Fields({ voices }: { voices: readonly ChannelRecord[] }) {
  const { t } = useTranslation();
  const { store, desk } = useStudio();
  const channels = recordsOf(useDocument(), 'channel');
  const [wanted, setWanted] = useState(USUAL_DB);
  const [done, setDone] = useState('');
  const voice = voices[0];
  const talking = useProgramme(({ voiceLufs }) => voiceLufs > -50);
  const set = () => {
    const downs = channels.map((c) => desk.readMeter(c.id)?.duckDb ?? 0);
    const { voiceLufs, restLufs } = desk.readProgramme();
    const { changed, depthDb } = keepAbove(voice, channels, wanted, {
      voiceLufs,
      restLufs,
      duckDb: Math.min(0, ...downs),
    });
    store.edit(t('sound.keepNameWantedDbAbove', { name: voice.name, wanted }), changed);
    setDone(
      `${changed.length} channels go down by ${depthDb} dB while ${voice.name} speaks. Go on talking: the measure follows within eight seconds.`,
    );
  };
  return (
    <>
      <p className="hint">{t('sound.talkWhileYouPressIt')}</p>
      <NumberField
        label={t('sound.keepNameAboveTheRest', { name: voice.name })}
        unit="dB"
        value={wanted}
        min={3}
        max={30}
        onCommit={setWanted}
      />
      <div className="sound-bar" style={{ margin: '10px 0' }}>
        <Button variant="contained" size="small" onClick={set}>
          {t('sound.setIt')}
        </Button>
        <span className="hint" style={{ margin: 0 }}>
          {talking ? t('sound.talkIsHeard') : t('sound.nobodyTalksNowAUsual')}
        </span>
      </div>
      <p className="hint" aria-live="polite" style={{ minHeight: 34 }}>
        {done}
      </p>
      <BalanceChip />
    </>
  );
}
