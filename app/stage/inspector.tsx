import { findRecord } from '~/core/show/document';
import { Panel } from '../studio/panel';
import { GradeFields } from './colour-fields';
import { ContentFields } from './content-fields';
import { FinishFields } from './finish-fields';
import { InputFields } from './input-fields';
import { MotionFields } from './motion-fields';
import { PlacementFields } from './placement-fields';
import { namesOf } from './stage-commands';
import { useStage } from './stage-context';
import { useTranslation } from '../words/words';

/** Numbers and settings of what is chosen: layers, or an input of the list. */
export function Inspector() {
  const { t } = useTranslation();
  const { document, chosen, panel, inputId } = useStage();
  if (panel === 'inputs') {
    const input = findRecord(document, 'input', inputId);
    return (
      <Panel
        label={t('layout.inputSettings')}
        title={<span style={{ color: 'var(--text)', fontSize: 14 }}>{input?.name ?? 'Input'}</span>}
      >
        {input ? (
          <InputFields key={input.id} input={input} />
        ) : (
          <p style={{ color: 'var(--quiet)', margin: 4, lineHeight: 1.5 }}>{t('layout.chooseAnInputItIs')}</p>
        )}
      </Panel>
    );
  }
  if (chosen.length === 0)
    return (
      <Panel label={t('layout.layerSettings')}>
        <p style={{ color: 'var(--quiet)', margin: 4, lineHeight: 1.5 }}>{t('layout.chooseALayerOnA')}</p>
      </Panel>
    );
  const record = chosen.length === 1 ? findRecord(document, 'layer', chosen[0].id) : null;
  return (
    <Panel
      label={t('layout.layerSettings')}
      title={<span style={{ color: 'var(--text)', fontSize: 14 }}>{namesOf(chosen)}</span>}
    >
      {/* By what is chosen: a number half typed for one layer must not become another's. */}
      <PlacementFields key={`placement ${chosen.map(({ id }) => id).join()}`} />
      {record && <ContentFields key={`content ${record.id}`} layer={record} />}
      {record?.content.type === 'input' && <GradeFields key={`grade ${record.id}`} owner={record} />}
      {record && record.content.type !== 'group' && (
        <FinishFields key={`finish ${record.id}`} layer={record} />
      )}
      {record && record.content.type !== 'group' && (
        <MotionFields key={`motion ${record.id}`} layer={record} />
      )}
    </Panel>
  );
}
