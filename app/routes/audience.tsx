import OpenInNewRounded from '@mui/icons-material/OpenInNewRounded';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useEffect, useState } from 'react';
import { recordsOf } from '~/core/show/document';
import { layersOfScene } from '~/core/show/layers';
import type { AlertRuleRecord } from '~/core/show/records';
import { EventList } from '../audience/event-list';
import { FramePair } from '../studio/frame-pair';
import { NumberField } from '../studio/number-field';
import { Panel } from '../studio/panel';
import { useBus, useDesk, useDocument, useStudio } from '../studio/studio-context';

export default function Audience() {
  const document = useDocument();
  const { onAirSceneId } = useDesk();
  const rule = recordsOf(document, 'alertRule')[0];
  const onAirLayers = onAirSceneId ? layersOfScene(document, onAirSceneId).filter((l) => l.visible) : [];
  const chatThere = onAirLayers.some((l) => l.content.type === 'chatPanel');
  const alertThere = onAirLayers.some((l) => l.content.type === 'alert');
  return (
    <div
      style={{
        display: 'grid',
        gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 1.15fr)',
        gap: 12,
        height: '100%',
      }}
    >
      <Panel
        label="Chat and events"
        title="Chat and events"
        style={{ display: 'grid', gridTemplateRows: 'auto minmax(0, 1fr)', overflow: 'hidden' }}
      >
        <EventList />
      </Panel>
      <div style={{ display: 'grid', gridTemplateRows: 'auto auto minmax(0, 1fr)', gap: 12, minHeight: 0 }}>
        <Panel title="On the picture" label="On the picture">
          <div style={{ height: '34vh', display: 'grid', placeItems: 'center' }}>
            <FramePair subject={{ type: 'onAir' }} label="What viewers see" />
          </div>
          <p style={{ color: 'var(--quiet)', margin: '8px 0 0', fontSize: 12.5 }}>
            {chatThere ? 'Chat panel is in this scene' : 'No chat panel in this scene: add one in Stage'} ·{' '}
            {alertThere ? 'alerts are shown' : 'no alert layer here: alerts wait unseen'}
          </p>
        </Panel>
        {rule && <RulePanel key={rule.id} rule={rule} />}
        <Platforms />
      </div>
    </div>
  );
}

function RulePanel({ rule }: { rule: AlertRuleRecord }) {
  const { store, showId, say } = useStudio();
  const [text, setText] = useState(rule.text);
  useEffect(() => setText(rule.text), [rule.text]);
  const test = async () => {
    try {
      const response = await fetch(`/show/${showId}/test-alert`, { method: 'POST' });
      if (!response.ok) throw new Error(String(response.status));
    } catch {
      say('The test could not be fired: the studio server does not answer.');
    }
  };
  return (
    <Panel
      title="Follow alert"
      label="Follow alert"
      aside={
        <Button onClick={() => void test()} sx={{ color: 'var(--glacier)' }}>
          Test follow
        </Button>
      }
    >
      <div
        style={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) 150px', gap: 8, alignItems: 'center' }}
      >
        <TextField
          label="Words; {{name}} is the viewer"
          value={text}
          onChange={(e) => setText(e.target.value)}
          onKeyDown={(e) => e.stopPropagation()}
          onBlur={() =>
            text.trim() &&
            text !== rule.text &&
            store.edit('Words of the follow alert', [{ ...rule, text: text.trim() }])
          }
        />
        <NumberField
          label="Stays"
          unit="s"
          value={rule.seconds}
          min={1}
          max={30}
          onCommit={(seconds) => store.edit('Length of the follow alert', [{ ...rule, seconds }])}
        />
      </div>
    </Panel>
  );
}

function Platforms() {
  const { data } = useStudio();
  const { platforms } = useBus();
  return (
    <Panel title="Platforms" label="Platforms">
      {data.platforms.length === 0 && (
        <p style={{ color: 'var(--quiet)' }}>
          No platform is connected. The demonstration brings the stand-ins Larch and Cairn.
        </p>
      )}
      {data.platforms.map((platform) => {
        const status = platforms.find((p) => p.platform === platform.name);
        return (
          <div key={platform.name} style={{ display: 'flex', alignItems: 'center', gap: 10, minHeight: 38 }}>
            <b style={{ fontWeight: 600, minWidth: 60 }}>{platform.title}</b>
            <span style={{ color: status?.connected ? 'var(--moss)' : 'var(--rose)', fontSize: 13, flex: 1 }}>
              {status?.connected ? 'chat connected' : status?.message || 'connecting'}
            </span>
            <span className="figure" style={{ color: 'var(--quiet)', fontSize: 12.5 }}>
              {status?.viewers ?? '—'} watching
            </span>
            <Button
              component="a"
              href={platform.watchUrl}
              target="_blank"
              rel="noopener"
              endIcon={<OpenInNewRounded sx={{ fontSize: 15 }} />}
            >
              Watch page
            </Button>
          </div>
        );
      })}
    </Panel>
  );
}
