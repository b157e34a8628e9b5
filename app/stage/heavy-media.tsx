import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { useEffect, useRef, useState } from 'react';
import { messageOf } from '~/core/fault';
import type { Size } from '~/core/geometry/rect';
import { planInUse } from '~/core/delivery/live-plan';
import { lighterTarget, mediaCost, type MediaFacts } from '~/core/media/media-cost';
import { recordsOf, type ShowDocument } from '~/core/show/document';
import { FRAME_NAMES, type InputRecord, type ListedFile } from '~/core/show/records';
import { useDesk, useStudio } from '../studio/studio-context';
import { useStage } from './stage-context';
import { useTranslation } from '../words/words';

/** The largest size an input is sent at in any frame, pixels, and the rate of pictures. */
function shownAt(document: ShowDocument, inputId: string): { size: Size; fps: number } {
  const plan = planInUse(document);
  const show = recordsOf(document, 'show')[0];
  let size = { width: 0, height: 0 };
  for (const frame of FRAME_NAMES) {
    const sent = plan?.frames[frame];
    if (!sent) continue;
    const scale = sent.width / show.frames[frame].width;
    for (const layer of recordsOf(document, 'layer')) {
      const place = layer.placements[frame];
      if (layer.content.type !== 'input' || layer.content.inputId !== inputId || !place) continue;
      // Poses may show it larger: the whole frame is what it may become.
      size = {
        width: Math.max(size.width, place.width * scale),
        height: Math.max(size.height, place.height * scale),
      };
    }
  }
  const whole = plan?.frames.wide ?? plan?.frames.tall ?? { width: 1280, height: 720 };
  return { size: size.width > 0 ? size : whole, fps: plan?.fps ?? 30 };
}

/** What a video of an input costs, and a lighter copy in its place. */
export function FileCost({
  input,
  file,
  onReplace,
}: {
  input: InputRecord;
  file: ListedFile;
  onReplace: (file: ListedFile) => void;
}) {
  const { t } = useTranslation();
  const { showId, say } = useStudio();
  const { document } = useStage();
  const inputs = useDesk((now) => now.inputs);
  const [facts, setFacts] = useState<(MediaFacts & { seconds: number; codec: string }) | null>(null);
  const [share, setShare] = useState<number | null>(null);
  const work = useRef<AbortController | null>(null);
  const url = `/show/${showId}/lighter-copy`;
  useEffect(() => {
    const asking = new AbortController();
    setFacts(null);
    fetch(`${url}?assetId=${file.assetId}`, { signal: asking.signal })
      .then(async (response) => {
        if (response.ok) setFacts((await response.json()) as typeof facts);
      })
      .catch((error: unknown) => {
        if (!asking.signal.aborted) say(`The cost of "${file.name}" is not known: ${messageOf(error)}`);
      });
    return () => asking.abort();
  }, [url, file.assetId, file.name, say]);
  // Leaving the settings does not end the copy; leaving the studio does.
  if (!facts) return null;
  const { size, fps } = shownAt(document, input.id);
  const cost = mediaCost(facts, size, fps);
  const started = inputs.find((i) => i.inputId === input.id)?.startSeconds ?? null;
  const make = async () => {
    const target = lighterTarget(facts, size, fps);
    const abort = new AbortController();
    work.current = abort;
    setShare(0);
    try {
      const response = await fetch(url, {
        method: 'POST',
        body: new URLSearchParams({
          assetId: file.assetId,
          width: String(target.width),
          height: String(target.height),
          fps: String(target.fps),
        }),
        signal: abort.signal,
      });
      for await (const step of linesOf(response)) {
        if ('message' in step) throw new Error(step.message);
        if ('share' in step) setShare(step.share);
        else {
          onReplace({ assetId: step.asset.id, name: step.asset.name });
          say(t('layout.nameShowsTheLighterCopy', { name: input.name }));
        }
      }
    } catch (error) {
      if (!abort.signal.aborted) say(`No lighter copy of "${file.name}": ${messageOf(error)}`);
    } finally {
      work.current = null;
      setShare(null);
    }
  };
  return (
    <div>
      <p className="quiet-note" style={{ color: cost.heavy ? 'var(--larch)' : undefined }}>
        {`${facts.width}×${facts.height}, ${Math.round(facts.fps)} fps: ${Math.round(cost.bytes / 1e6)} MB while it is open`}
        {started !== null && `, ready after ${started.toFixed(1)} s`}
        {cost.heavy && `. ${cost.excess.toFixed(1)} times the work of what viewers see.`}
      </p>
      {share !== null ? (
        <div style={{ display: 'flex', gap: 8, alignItems: 'center' }}>
          <LinearProgress
            variant="determinate"
            value={share * 100}
            aria-label={t('layout.makingALighterCopyOf', { name: file.name })}
            sx={{ flex: 1 }}
          />
          <Button onClick={() => work.current?.abort()}>{t('layout.cancel')}</Button>
        </div>
      ) : (
        cost.heavy && <Button onClick={() => void make()}>{t('layout.makeALighterCopy')}</Button>
      )}
    </div>
  );
}

type Step = { share: number } | { asset: { id: string; name: string } } | { message: string };

async function* linesOf(response: Response): AsyncGenerator<Step> {
  if (!response.body) return;
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
  let rest = '';
  for (;;) {
    const { done, value } = await reader.read();
    if (done) break;
    const lines = (rest + value).split('\n');
    rest = lines.pop() ?? '';
    for (const line of lines) if (line !== '') yield JSON.parse(line) as Step;
  }
  if (rest !== '') yield JSON.parse(rest) as Step;
}
