import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { useFetcher } from 'react-router';
import type { DoorsState } from '~/protocol/access';
import { useTranslation } from '../words/words';

type Answer = { message?: string };

/** Where others come in: the local network, and a door elsewhere. */
export function DoorPanel({ doors: { house, elsewhere } }: { doors: DoorsState }) {
  const { t } = useTranslation();
  const opening = useFetcher<Answer>();
  const pairing = useFetcher<Answer>();
  const [word, setWord] = useState('');
  const open = house.open && house.problem === null;
  return (
    <>
      <div className="door-row">
        <div>
          <h3>{t('computer.house')}</h3>
          <p className="computer-hint">
            {house.problem ?? t(open ? 'computer.houseOpen' : 'computer.houseClosed')}
          </p>
          {open && house.addresses[0] && (
            <p className="computer-hint">
              <code>{house.addresses[0].url}</code>
            </p>
          )}
        </div>
        <Button
          className="raised"
          disabled={!house.can || opening.state !== 'idle'}
          onClick={() => void opening.submit({ intent: 'house', open: !house.open }, { method: 'post' })}
        >
          {t(house.open ? 'computer.closeHouse' : 'computer.openHouse')}
        </Button>
      </div>
      <div className="door-row">
        <div>
          <h3>{t('computer.elsewhere')}</h3>
          <p className="computer-hint">
            {elsewhere === null
              ? t('computer.noElsewhere')
              : elsewhere.connected
                ? t('computer.elsewhereConnected', { url: elsewhere.url })
                : (elsewhere.problem ?? t('computer.elsewhereConnecting', { url: elsewhere.url }))}
          </p>
        </div>
        {elsewhere && (
          <Button
            className="raised"
            disabled={pairing.state !== 'idle'}
            onClick={() => void pairing.submit({ intent: 'unpair' }, { method: 'post' })}
          >
            {t('computer.unpair')}
          </Button>
        )}
      </div>
      <pairing.Form method="post" className="door-pair" onSubmit={() => setWord('')}>
        <input type="hidden" name="intent" value="pair" />
        <TextField
          name="word"
          type="password"
          autoComplete="off"
          label={t('computer.pairWord')}
          helperText={t('computer.pairHint')}
          value={word}
          onChange={(e) => setWord(e.target.value)}
        />
        <Button type="submit" className="raised" disabled={word.trim() === '' || pairing.state !== 'idle'}>
          {t('computer.pair')}
        </Button>
      </pairing.Form>
      {pairing.data?.message && (
        <p role="alert" className="computer-problem">
          {pairing.data.message}
        </p>
      )}
    </>
  );
}
