import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { isCurrency } from '~/core/audience/money';
import type { AudienceSettings } from '~/core/audience/settings';
import { recordsOf } from '~/core/show/document';
import { ChoiceRow } from '../studio/choice-row';
import { CommitField } from '../studio/commit-field';
import { NumberField } from '../studio/number-field';
import { useDocument, useStudio } from '../studio/studio-context';
import { Toggle } from '../studio/toggle';
import { FieldHeading } from '../stage/field-layout';
import { orderOrSay } from '../studio/order';
import { useTranslation } from '../words/words';

const lines = (text: string) =>
  [
    ...new Set(
      text
        .split('\n')
        .map((line) => line.trim().slice(0, 80))
        .filter(Boolean),
    ),
  ].slice(0, 1000);
const RATE = /^\s*([A-Za-z]{3})\s*[=:]?\s*(\d+(?:[.,]\d+)?)\s*$/;

function ratesOf(text: string): Record<string, number> | null {
  const rates: Record<string, number> = {};
  for (const line of text.split('\n')) {
    if (line.trim() === '') continue;
    const match = RATE.exec(line);
    const code = match?.[1].toUpperCase() ?? '';
    const rate = Number(match?.[2].replace(',', '.'));
    if (!isCurrency(code) || !(rate > 0) || rate > 1e6) return null;
    rates[code] = rate;
  }
  return rates;
}

/** What comes on the picture and in what money it counts. */
export function FiltersPanel() {
  const { t } = useTranslation();
  const document = useDocument();
  const { store, showId, say } = useStudio();
  const show = recordsOf(document, 'show')[0];
  if (!show) return null;
  const { audience } = show;
  const set = (what: string, part: Partial<AudienceSettings>) =>
    store.edit(what, [{ ...show, audience: { ...audience, ...part } }]);
  return (
    <div style={{ overflowY: 'auto', height: '100%', display: 'grid', gap: 8, alignContent: 'start' }}>
      <FieldHeading>{t('audience.names')}</FieldHeading>
      <ChoiceRow
        label={t('audience.namesOnThePicture')}
        value={audience.names}
        options={[
          { value: 'full', words: t('audience.asTheyAre') },
          { value: 'short', words: t('audience.shortened') },
          { value: 'hidden', words: t('audience.hidden') },
        ]}
        onChange={(names) => set(t('audience.namesOnThePicture'), { names })}
      />
      <Toggle
        label={t('audience.maskNamesInMyLists')}
        on={audience.maskLists}
        onChange={(maskLists) => set(t('audience.maskedNames'), { maskLists })}
      />
      <FieldHeading>{t('audience.chatOnThePicture')}</FieldHeading>
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 6, alignItems: 'center' }}>
        <Toggle
          label={t('audience.hideCommands')}
          on={audience.hideCommands}
          onChange={(hideCommands) => set(t('audience.commands'), { hideCommands })}
        />
        <Toggle
          label={t('audience.maskLinks')}
          on={audience.maskLinks}
          onChange={(maskLinks) => set(t('audience.links'), { maskLinks })}
        />
        <NumberField
          label={t('audience.chatDelay')}
          unit="s"
          value={audience.holdSeconds}
          min={0}
          max={60}
          onCommit={(holdSeconds) => set(t('audience.chatDelay'), { holdSeconds })}
        />
      </div>
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 8, marginTop: 6 }}>
        <CommitField
          label={t('audience.blockedWordsOnePerLine')}
          value={audience.blockedWords.join('\n')}
          max={20_000}
          lines={3}
          allowEmpty
          help={t('audience.alsoWithLookAlikeLetters')}
          onCommit={(text) => set(t('audience.blockedWords'), { blockedWords: lines(text) })}
        />
        <CommitField
          label={t('audience.viewersNeverShownOnePer')}
          value={audience.hiddenViewers.join('\n')}
          max={20_000}
          lines={3}
          allowEmpty
          onCommit={(text) => set(t('audience.viewersNeverShown'), { hiddenViewers: lines(text) })}
        />
      </div>
      <FieldHeading>{t('audience.alertsWaitWhileTheseAre')}</FieldHeading>
      <div style={{ display: 'flex', flexWrap: 'wrap', gap: 6 }}>
        {recordsOf(document, 'scene').map((scene) => {
          const on = audience.quietSceneIds.includes(scene.id);
          return (
            <button
              key={scene.id}
              type="button"
              className="chip"
              aria-pressed={on}
              onClick={() =>
                set(t('audience.quietScenes'), {
                  quietSceneIds: on
                    ? audience.quietSceneIds.filter((id) => id !== scene.id)
                    : [...audience.quietSceneIds, scene.id],
                })
              }
            >
              {scene.name}
            </button>
          );
        })}
      </div>
      <FieldHeading>{t('audience.money')}</FieldHeading>
      <div style={{ display: 'grid', gridTemplateColumns: '140px 1fr', gap: 8, alignItems: 'start' }}>
        <TextField
          select
          label={t('audience.countedIn')}
          value={audience.currency}
          onChange={(e) => set(t('audience.currency'), { currency: e.target.value })}
        >
          {[...new Set([audience.currency, 'EUR', 'USD', 'GBP', 'CHF', 'JPY', 'SEK', 'CAD', 'AUD'])].map(
            (code) => (
              <MenuItem key={code} value={code}>
                {code}
              </MenuItem>
            ),
          )}
        </TextField>
        <CommitField
          label={t('audience.exchangeRatesToCurrencyOne', { currency: audience.currency })}
          value={Object.entries(audience.rates)
            .map(([code, rate]) => `${code} ${rate}`)
            .join('\n')}
          max={2000}
          lines={2}
          allowEmpty
          help={t('audience.gbp117MoneyWithout')}
          problem={(text) =>
            ratesOf(text) === null ? 'a line is a currency and a figure, like GBP 1.17' : null
          }
          onCommit={(text) => set(t('audience.rates'), { rates: ratesOf(text) ?? {} })}
        />
      </div>
      <FieldHeading>{t('audience.evening')}</FieldHeading>
      <div>
        <Button onClick={() => void orderOrSay(`/show/${showId}/entries`, { what: 'evening' }, say)}>
          {t('audience.beginANewEvening')}
        </Button>
        <p style={{ color: 'var(--quiet)', fontSize: 12, margin: '4px 0 0' }}>
          {t('audience.latestLargestCreditsAndStreak')}
        </p>
      </div>
    </div>
  );
}
