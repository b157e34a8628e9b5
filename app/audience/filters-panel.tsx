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
  const document = useDocument();
  const { store, showId, say } = useStudio();
  const show = recordsOf(document, 'show')[0];
  if (!show) return null;
  const { audience } = show;
  const set = (what: string, part: Partial<AudienceSettings>) =>
    store.edit(what, [{ ...show, audience: { ...audience, ...part } }]);
  return (
    <div style={{ overflowY: 'auto', height: '100%', display: 'grid', gap: 8, alignContent: 'start' }}>
      <FieldHeading>Names</FieldHeading>
      <ChoiceRow
        label="Names on the picture"
        value={audience.names}
        options={[
          { value: 'full', words: 'As they are' },
          { value: 'short', words: 'Shortened' },
          { value: 'hidden', words: 'Hidden' },
        ]}
        onChange={(names) => set('Names on the picture', { names })}
      />
      <Toggle
        label="Mask names in my lists too (when the studio itself is seen)"
        on={audience.maskLists}
        onChange={(maskLists) => set('Masked names', { maskLists })}
      />
      <FieldHeading>Chat on the picture</FieldHeading>
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 6, alignItems: 'center' }}>
        <Toggle
          label="Hide commands (!…)"
          on={audience.hideCommands}
          onChange={(hideCommands) => set('Commands', { hideCommands })}
        />
        <Toggle
          label="Mask links"
          on={audience.maskLinks}
          onChange={(maskLinks) => set('Links', { maskLinks })}
        />
        <NumberField
          label="Chat delay"
          unit="s"
          value={audience.holdSeconds}
          min={0}
          max={60}
          onCommit={(holdSeconds) => set('Chat delay', { holdSeconds })}
        />
      </div>
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 8, marginTop: 6 }}>
        <CommitField
          label="Blocked words, one per line"
          value={audience.blockedWords.join('\n')}
          max={20_000}
          lines={3}
          allowEmpty
          help="Also with look-alike letters and signs between"
          onCommit={(text) => set('Blocked words', { blockedWords: lines(text) })}
        />
        <CommitField
          label="Viewers never shown, one per line"
          value={audience.hiddenViewers.join('\n')}
          max={20_000}
          lines={3}
          allowEmpty
          onCommit={(text) => set('Viewers never shown', { hiddenViewers: lines(text) })}
        />
      </div>
      <FieldHeading>Alerts wait while these are on air</FieldHeading>
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
                set('Quiet scenes', {
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
      <FieldHeading>Money</FieldHeading>
      <div style={{ display: 'grid', gridTemplateColumns: '140px 1fr', gap: 8, alignItems: 'start' }}>
        <TextField
          select
          label="Counted in"
          value={audience.currency}
          onChange={(e) => set('Currency', { currency: e.target.value })}
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
          label={`Exchange rates to ${audience.currency}, one per line`}
          value={Object.entries(audience.rates)
            .map(([code, rate]) => `${code} ${rate}`)
            .join('\n')}
          max={2000}
          lines={2}
          allowEmpty
          help="GBP 1.17 — money without a rate is shown but not counted"
          problem={(text) =>
            ratesOf(text) === null ? 'a line is a currency and a figure, like GBP 1.17' : null
          }
          onCommit={(text) => set('Rates', { rates: ratesOf(text) ?? {} })}
        />
      </div>
      <FieldHeading>Evening</FieldHeading>
      <div>
        <Button onClick={() => void orderOrSay(`/show/${showId}/entries`, { what: 'evening' }, say)}>
          Begin a new evening
        </Button>
        <p style={{ color: 'var(--quiet)', fontSize: 12, margin: '4px 0 0' }}>
          Latest, largest, credits and streak count from now on; goals continue, and the list is kept.
        </p>
      </div>
    </div>
  );
}
