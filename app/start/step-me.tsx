import { findRecord } from '~/core/show/document';
import { chooseCamera, firstCamera } from '~/core/show/new-show';
import { CommitField } from '../studio/commit-field';
import { useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';
import { DeviceChoice } from './device-choice';
import { useDevices } from './use-devices';

const newId = () => crypto.randomUUID();

/** Camera, name of the show, handle. */
export function StepMe() {
  const { t } = useTranslation();
  const { store, showId } = useStudio();
  const document = useDocument();
  const devices = useDevices('camera');
  const show = findRecord(document, 'show', showId)!;
  const camera = firstCamera(document);
  const source = camera?.source.type === 'camera' ? camera.source : null;
  return (
    <>
      <h2>{t('start.me.title')}</h2>
      <div className="start-fields">
        <CommitField
          label={t('start.me.name')}
          value={show.name}
          onCommit={(name) =>
            store.edit(t('start.me.name'), [
              {
                ...show,
                name,
                // The title follows until it is given by itself.
                fields: show.fields.title === show.name ? { ...show.fields, title: name } : show.fields,
              },
            ])
          }
        />
        <CommitField
          label={t('start.me.handle')}
          value={show.fields.host ?? ''}
          allowEmpty
          max={80}
          onCommit={(host) =>
            store.edit(t('start.me.handle'), [{ ...show, fields: { ...show.fields, host } }])
          }
        />
      </div>
      <DeviceChoice
        of="me"
        devices={devices}
        chosen={source}
        onChoose={(device) => {
          const { put, removed } = chooseCamera(store.document(), device, newId);
          store.edit(t('start.me.cameras'), put, removed);
        }}
      />
    </>
  );
}
