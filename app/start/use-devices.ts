import { useCallback, useEffect, useState } from 'react';
import { explainDeviceError } from '~/engine/inputs/device-error';

export interface Device {
  deviceId: string;
  label: string;
}

export interface Devices {
  state: 'asking' | 'ready' | 'refused';
  devices: readonly Device[];
  /** Why there are none, in words. */
  problem: string;
  again: () => void;
}

const KINDS = { camera: 'videoinput', microphone: 'audioinput' } as const;

/** Cameras or microphones of this computer; asks for the permission without which they have no names. */
export function useDevices(of: keyof typeof KINDS): Devices {
  const [found, setFound] = useState<Omit<Devices, 'again'>>({ state: 'asking', devices: [], problem: '' });
  const look = useCallback(async () => {
    const all = await navigator.mediaDevices.enumerateDevices();
    return all
      .filter((device) => device.kind === KINDS[of] && device.deviceId !== '')
      .map(({ deviceId, label }) => ({ deviceId, label: label.replace(/ \([0-9a-f:]+\)$/, '') }));
  }, [of]);
  const ask = useCallback(async () => {
    setFound((before) => ({ ...before, state: 'asking', problem: '' }));
    try {
      const stream = await navigator.mediaDevices.getUserMedia(
        of === 'camera' ? { video: true } : { audio: true },
      );
      for (const track of stream.getTracks()) track.stop();
      setFound({ state: 'ready', devices: await look(), problem: '' });
    } catch (error) {
      const problem = explainDeviceError(error, of === 'camera' ? 'The camera' : 'The microphone');
      setFound({ state: 'refused', devices: await look().catch(() => []), problem });
    }
  }, [of, look]);
  useEffect(() => {
    void ask();
    const changed = () => void look().then((devices) => setFound((before) => ({ ...before, devices })));
    navigator.mediaDevices.addEventListener('devicechange', changed);
    return () => navigator.mediaDevices.removeEventListener('devicechange', changed);
  }, [ask, look]);
  return { ...found, again: () => void ask() };
}
