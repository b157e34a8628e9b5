import AddRounded from '@mui/icons-material/AddRounded';
import CloseRounded from '@mui/icons-material/CloseRounded';
import PlayArrowRounded from '@mui/icons-material/PlayArrowRounded';
import Button from '@mui/material/Button';
import { recordsOf } from '~/core/show/document';
import { newTitleLayer } from '~/core/show/title-layer';
import type { TitleRecord } from '~/core/show/rundown-records';
import { CommitField } from '../studio/commit-field';
import { NumberField } from '../studio/number-field';
import { SmallButton } from '../studio/small-button';
import { useDesk, useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

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
            label={t('plan.removeTitle', { name: title.name })}
            onClick={() => store.edit(`Remove ${title.name}`, [], [title.id])}
          >
            <CloseRounded />
          </SmallButton>
        </div>
      ))}
      <div className="plan-head">
        <Button
          startIcon={<AddRounded />}
          onClick={() =>
            store.edit('Add title', [
              {
                kind: 'title',
                id: crypto.randomUUID(),
                showId,
                name: t('plan.newTitle'),
                position: (titles.at(-1)?.position ?? -1) + 1,
                line2: '',
                seconds: 8,
              },
            ])
          }
        >
          {t('plan.addTitle')}
        </Button>
        <Button disabled={onAirId === null} onClick={() => control.hideTitle()}>
          {t('air.hideTitle')}
        </Button>
      </div>
    </div>
  );
}
