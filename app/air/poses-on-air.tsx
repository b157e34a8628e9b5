import { poseIn, posesOf } from '~/core/show/poses';
import { FramePair } from '../studio/frame-pair';
import { useDesk, useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

/** The poses of the scene on air: one press, or their key, glides to one. */
export function PosesOnAir() {
  const { t } = useTranslation();
  const document = useDocument();
  const { control } = useStudio();
  const onAirSceneId = useDesk((now) => now.onAirSceneId);
  const onAirPoseId = useDesk((now) => now.onAirPoseId);
  const poses = onAirSceneId ? posesOf(document, onAirSceneId) : [];
  if (poses.length < 2) return <div hidden />;
  const current = poseIn(document, onAirSceneId!, onAirPoseId);
  return (
    <section aria-label={t('shell.posesOfTheSceneOn')} className="pose-row">
      {poses.map((pose) => {
        const on = pose.id === current?.id;
        return (
          <button
            key={pose.id}
            type="button"
            className="pose-take"
            aria-pressed={on}
            title={t('shell.glideToName', { name: pose.name })}
            onClick={() => control.pose(pose.id)}
          >
            <FramePair subject={{ type: 'scene', sceneId: pose.sceneId, poseId: pose.id }} label="" gap={3} />
            <span className="pose-name">
              {pose.key && <kbd>{pose.key}</kbd>}
              {pose.name}
            </span>
          </button>
        );
      })}
    </section>
  );
}
