import AddRounded from '@mui/icons-material/AddRounded';
import CloseRounded from '@mui/icons-material/CloseRounded';
import PlayArrowRounded from '@mui/icons-material/PlayArrowRounded';
import QueuePlayNextRounded from '@mui/icons-material/QueuePlayNextRounded';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import { useState, useSyncExternalStore } from 'react';
import { fieldOfSeat } from '~/core/guests/guest-scene';
import { seatsOf } from '~/core/guests/seats';
import { findRecord, recordsOf } from '~/core/show/document';
import { newTitleLayer } from '~/core/show/title-layer';
import type { TitleRecord } from '~/core/show/rundown-records';
import { ActionMenu } from '../sound/action-menu';
import { CommitField } from '../studio/commit-field';
import { NumberField } from '../studio/number-field';
import { SmallButton } from '../studio/small-button';
import { useDesk, useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';
import { TitlesDialog } from './titles-dialog';

/** The bank of titles: who and what can be named, each shown by one press. */
export function TitlesPanel() {
  const { store, control, showId } = useStudio();
  const document = useDocument();
  const { t } = useTranslation();
  const titles = recordsOf(document, 'title');
  const onAirId = useDesk((now) => now.programme.title?.titleId ?? null);
  const hasLayer = recordsOf(document, 'layer').some(
    ({ content }) => content.type === 'widget' && content.widget.of === 'title',
  );
  const queued = useSyncExternalStore(control.subscribe, () => control.snapshot().titles);
  const [pasting, setPasting] = useState(false);
  const add = (part: Pick<TitleRecord, 'name' | 'line2'>) =>
    store.edit('Add title', [
      {
        ...{ kind: 'title', id: crypto.randomUUID(), showId },
        ...{ position: (titles.at(-1)?.position ?? -1) + 1, seconds: 8, ...part },
      },
    ]);
  const set = (title: TitleRecord, part: Partial<TitleRecord>) =>
    store.edit(`Title ${title.name}`, [{ ...title, ...part }]);
  return (
    <div className="plan-fields">
      <p className="hint">{t('plan.titlesHint', { key: 'T' })}</p>
      {titles.length > 0 && !hasLayer && (
        <div className="notice-line">
          <span>{t('plan.titlesNoLayer')}</span>
          <Button
            onClick={() =>
              store.edit('Add title layer', [newTitleLayer(document, showId, crypto.randomUUID())])
            }
          >
            {t('plan.addTitleLayer')}
          </Button>
        </div>
      )}
      {titles.map((title) => (
        <div
          key={title.id}
          role="group"
          aria-label={title.name}
          className="title-row"
          data-on={title.id === onAirId}
        >
          <CommitField
            label={t('plan.titleLine1')}
            value={title.name}
            onCommit={(name) => set(title, { name })}
          />
          <CommitField
            label={t('plan.titleLine2')}
            value={title.line2}
            allowEmpty
            max={200}
            onCommit={(line2) => set(title, { line2 })}
          />
          <NumberField
            label={t('plan.titleSeconds')}
            unit="s"
            min={1}
            max={3600}
            value={title.seconds}
            onCommit={(seconds) => set(title, { seconds })}
          />
          <SmallButton
            label={t('plan.showTitle', { name: title.name })}
            onClick={() => control.title(title.id)}
          >
            <PlayArrowRounded />
          </SmallButton>
          <SmallButton
            label={t('plan.queueTitle', { name: title.name })}
            onClick={() => control.queueTitle(title.id)}
          >
            <QueuePlayNextRounded />
          </SmallButton>
          <SmallButton
            label={t('plan.removeTitle', { name: title.name })}
            onClick={() => store.edit(`Remove ${title.name}`, [], [title.id])}
          >
            <CloseRounded />
          </SmallButton>
        </div>
      ))}
      <div className="plan-head">
        <Button startIcon={<AddRounded />} onClick={() => add({ name: t('plan.newTitle'), line2: '' })}>
          {t('plan.addTitle')}
        </Button>
        <ActionMenu label={t('plan.addTitles')}>
          {(close) => [
            <MenuItem
              key="paste"
              onClick={() => {
                close();
                setPasting(true);
              }}
            >
              {t('plan.pasteTitles')}
            </MenuItem>,
            ...seatsOf(document).map((seat) => (
              <MenuItem
                key={seat.id}
                title={t('plan.titleOfGuestHint')}
                onClick={() => {
                  close();
                  add({ name: `{{${fieldOfSeat(seat.name)}}}`, line2: '' });
                }}
              >
                {t('plan.titleOfGuest', { name: seat.name })}
              </MenuItem>
            )),
          ]}
        </ActionMenu>
        <Button disabled={onAirId === null} onClick={() => control.hideTitle()}>
          {t('air.hideTitle')}
        </Button>
      </div>
      {queued.length > 0 && (
        <section aria-label={t('plan.queuedTitles')}>
          <h3 className="small-head">{t('plan.queuedTitles')}</h3>
          <ol className="title-queue">
            {queued.map((id, i) => {
              const name = findRecord(document, 'title', id)?.name ?? t('params.gone');
              return (
                <li key={`${id}/${i}`}>
                  <span className="one-line">{name}</span>
                  <SmallButton
                    label={t('plan.unqueueTitle', { name })}
                    onClick={() => control.unqueueTitle(i)}
                  >
                    <CloseRounded />
                  </SmallButton>
                </li>
              );
            })}
          </ol>
        </section>
      )}
      {pasting && <TitlesDialog onClose={() => setPasting(false)} />}
    </div>
  );
}
