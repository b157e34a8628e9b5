import { useCallback, useEffect, useMemo, useState } from 'react';
import { carriesPlan } from '~/core/delivery/computer-measure';
import { encodesInUse, enabledDestinations, planInUse } from '~/core/delivery/live-plan';
import { isRecorded, uploadKbps } from '~/core/delivery/encodes';
import { planWarnings } from '~/core/delivery/plan-advice';
import { preflight, type Check, type PreflightFacts } from '~/core/delivery/preflight';
import { dbOfAmplitude } from '~/core/sound/decibel';
import { findRecord, recordsOf, type ShowDocument } from '~/core/show/document';
import { channelKindOf } from '~/core/show/channel-kinds';
import { kindOf } from '~/core/show/input-kinds';
import { inputsOfScene, sceneAfter } from '~/core/show/inputs-shown';
import { explainEcho } from '~/core/sound/analysis/echo-finder';
import type { InputState } from '~/protocol/engine';
import type { ServerFacts } from '../routes/preflight-facts';
import { useKeptMeasure } from './kept-measure';
import { useEncoderGone } from './use-encoder-gone';
import { useBus, useDesk, useDocument, useStudio } from '../studio/studio-context';

const REFRESH_MS = 15_000;
/** A level below this is silence. */
const SILENT_DB = -70;

/** What only the server knows, refreshed by itself and on demand. */
export function useServerFacts(): { facts: ServerFacts | null; refresh: () => Promise<void> } {
  const { showId } = useStudio();
  const [facts, setFacts] = useState<ServerFacts | null>(null);
  const refresh = useCallback(async () => {
    try {
      const response = await fetch(`/show/${showId}/preflight-facts`);
      if (response.ok) setFacts((await response.json()) as ServerFacts);
    } catch {
      // The server is away: what it said last still stands, and the studio says so elsewhere.
    }
  }, [showId]);
  useEffect(() => {
    void refresh();
    const timer = setInterval(() => void refresh(), REFRESH_MS);
    return () => clearInterval(timer);
  }, [refresh]);
  return { facts, refresh };
}

/** The checklist, looked at anew every second. */
export function usePreflight(facts: ServerFacts | null): Check[] {
  const { desk } = useStudio();
  const inputs = useDesk((now) => now.inputs);
  const stage = useDesk((now) => now.stage);
  const sound = useDesk((now) => now.sound);
  const echo = useDesk((now) => now.echo);
  const onAirSceneId = useDesk((now) => now.onAirSceneId);
  const onAirPoseId = useDesk((now) => now.onAirPoseId);
  const broadcast = useBus((now) => now.broadcast);
  const document = useDocument();
  const encoderGone = useEncoderGone();
  const measure = useKeptMeasure();
  const [tick, setTick] = useState(0);
  useEffect(() => {
    const timer = setInterval(() => setTick((n) => n + 1), 1000);
    return () => clearInterval(timer);
  }, []);
  return useMemo(() => {
    void tick;
    const show = recordsOf(document, 'show')[0];
    const plan = planInUse(document);
    const encodes = encodesInUse(document, plan);
    const onAir = onAirSceneId ? inputsOfScene(document, onAirSceneId, onAirPoseId) : new Set<string>();
    const channels = recordsOf(document, 'channel');
    const programme = desk.readProgramme();
    const used = new Set(
      recordsOf(document, 'layer').flatMap((l) => (l.content.type === 'input' ? [l.content.inputId] : [])),
    );
    const newest = facts?.lineTests[0] ?? null;
    const heard = Number.isFinite(programme.shortTermLufs) ? programme.shortTermLufs : null;
    const checks: PreflightFacts = {
      inputs: recordsOf(document, 'input')
        // An empty seat is no trouble: whoever is to come may come later.
        .filter((i) => used.has(i.id) && i.source.type !== 'seat')
        .map((i) => {
          const state = inputs.find((s) => s.inputId === i.id);
          return {
            id: i.id,
            name: i.name,
            state: state?.state ?? 'waiting',
            message: state?.message ?? '',
            onAir: onAir.has(i.id),
            look: state?.look ?? null,
            live: kindOf(i.source).live,
            keepReady: i.keepReady,
            heavy: kindOf(i.source).heavy,
          };
        }),
      soundRunning: sound.state === 'running',
      voices: channels
        .filter((c) => c.role === 'voice' && channelKindOf(c.source).spoken)
        .map((c) => {
          const meter = desk.readMeter(c.id);
          return {
            id: c.id,
            name: c.name,
            muted: c.muted,
            peakDb: meter && dbOfAmplitude(meter.held) > SILENT_DB ? dbOfAmplitude(meter.held) : null,
            clips: meter?.clipped ?? 0,
            problem: sound.problems.get(c.id) ?? null,
          };
        }),
      lufs: heard,
      targetLufs: show.sound.targetLufs,
      echo: echo ? explainEcho(echo).what : null,
      destinations: enabledDestinations(document).map((d) => {
        const key = facts?.keys.find((k) => k.destinationId === d.id);
        return {
          id: d.id,
          name: d.name,
          hasKey: facts === null || key !== undefined || /\/[^/]+\/[^/]+$/.test(new URL(d.url).pathname),
          keyLost: facts?.keysLost.includes(d.id) ?? false,
          freshKey: d.keyUse === 'fresh',
          keyAgeHours: key?.ageHours ?? null,
          keyUsed: key?.used ?? false,
          sameKeyAs: key?.sameKeyAs ?? null,
          needsTitle: d.connector !== null && d.details.title === '',
          encode: encodes.find((e) => e.destinationIds.includes(d.id))?.id ?? null,
          noServerEncoder: d.encodedBy === 'server' && facts?.serverEncodes === false,
        };
      }),
      folderProblem: facts?.recordings.problem ?? null,
      freeBytes: facts?.freeBytes ?? null,
      recordKbps: encodes
        .filter(({ id }) => isRecorded(id) && show.delivery.record.frames.includes(id))
        .reduce((sum, e) => sum + e.videoKbps + (plan?.audioKbps ?? 0), 0),
      plannedMinutes: show.delivery.plannedMinutes,
      uploadKbps: uploadKbps(encodes, plan?.audioKbps ?? 0),
      lineKbps: plan?.lineKbps ?? null,
      headroom: plan?.headroom ?? 0,
      lineTestAgeHours: newest ? (Date.now() - newest.atMs) / 3_600_000 : null,
      encoderGone,
      computer: measure && plan ? carriesPlan(measure, plan) : null,
      planWarnings: plan ? planWarnings(plan, encodes) : [],
      relayGone: broadcast.state === 'relayGone',
      fps: stage?.fps ?? 0,
      plannedFps: plan?.fps ?? 30,
      clockSlips: stage?.clockSlips ?? 0,
      next: nextOf(document, onAirSceneId, inputs),
      capturesStudio: desk
        .wholeScreens()
        .flatMap((id) => recordsOf(document, 'input').find((i) => i.id === id)?.name ?? []),
    };
    return preflight(checks);
  }, [
    tick,
    document,
    inputs,
    stage,
    sound,
    echo,
    onAirSceneId,
    onAirPoseId,
    facts,
    desk,
    encoderGone,
    measure,
    broadcast.state,
  ]);
}

function nextOf(
  document: ShowDocument,
  onAirSceneId: string | null,
  states: readonly InputState[],
): PreflightFacts['next'] {
  const id = onAirSceneId && sceneAfter(document, onAirSceneId);
  const scene = findRecord(document, 'scene', id ?? null);
  if (!scene) return null;
  const missing = [...inputsOfScene(document, scene.id)].flatMap((inputId) =>
    states.find((s) => s.inputId === inputId)?.state === 'ready'
      ? []
      : (findRecord(document, 'input', inputId)?.name ?? []),
  );
  return { name: scene.name, missing };
}
