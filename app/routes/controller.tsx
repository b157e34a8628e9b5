import { useEffect, useRef, useState } from 'react';
import { MidiReader } from '~/core/controllers/midi';
import { standInController } from '../controllers/port';
import { useTranslation } from '../words/words';

export const meta = () => [{ title: 'Stand-in controller' }];

const FADERS = [0, 1, 2, 3, 4, 5, 6, 7];
const ENCODERS = [16, 17, 18, 19];
const PADS = [36, 37, 38, 39, 40, 41, 42, 43];

/** A controller that is none: faders, encoders and buttons with lights, speaking the same bytes as a real one. */
export default function StandInController() {
  const { t } = useTranslation();
  const controller = useRef<ReturnType<typeof standInController> | null>(null);
  const [lit, setLit] = useState<Record<number, boolean>>({});
  useEffect(() => {
    const reader = new MidiReader();
    const made = standInController((bytes) => {
      for (const { number, value } of reader.read(bytes)) setLit((now) => ({ ...now, [number]: value > 0 }));
    });
    controller.current = made;
    window.addEventListener('pagehide', made.unplug);
    return () => {
      window.removeEventListener('pagehide', made.unplug);
      made.unplug();
    };
  }, []);
  const send = (...bytes: number[]) => controller.current?.send(bytes);
  return (
    <main className="stand-in">
      <h1>{t('standIn.title')}</h1>
      <p className="hint">{t('standIn.hint')}</p>
      <section aria-label={t('standIn.faders')} className="stand-in-faders">
        {FADERS.map((number) => (
          <label key={number}>
            {t('standIn.fader', { n: number + 1 })}
            <input
              type="range"
              min={0}
              max={127}
              defaultValue={0}
              onInput={({ currentTarget }) => send(0xb0, number, Number(currentTarget.value))}
            />
          </label>
        ))}
      </section>
      <section aria-label={t('standIn.encoders')} className="stand-in-row">
        {ENCODERS.map((number, i) => (
          <span key={number}>
            {t('standIn.encoder', { n: i + 1 })}
            <button
              type="button"
              aria-label={t('standIn.left', { n: i + 1 })}
              onClick={() => send(0xb0, number, 127)}
            >
              −
            </button>
            <button
              type="button"
              aria-label={t('standIn.right', { n: i + 1 })}
              onClick={() => send(0xb0, number, 1)}
            >
              +
            </button>
          </span>
        ))}
      </section>
      <section aria-label={t('standIn.buttons')} className="stand-in-row">
        {PADS.map((number, i) => (
          <button
            key={number}
            type="button"
            data-lit={lit[number] ?? false}
            onPointerDown={() => send(0x90, number, 100)}
            onPointerUp={() => send(0x80, number, 0)}
            onKeyDown={({ key, repeat }) =>
              !repeat && (key === 'Enter' || key === ' ') && send(0x90, number, 100)
            }
            onKeyUp={({ key }) => (key === 'Enter' || key === ' ') && send(0x80, number, 0)}
          >
            {t('standIn.button', { n: i + 1 })}
          </button>
        ))}
      </section>
    </main>
  );
}
