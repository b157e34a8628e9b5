import { useEffect, useState } from 'react';
import { encodesInUse, planInUse } from '~/core/delivery/live-plan';
import { encodeValues } from '~/core/delivery/plan-steps';
import { chooseCodec } from '~/engine/encode/encode-plans';
import { useStore } from '../studio/studio-context';

const WORDS = { cpu: 'CPU', gpu: 'GPU' } as const;

/** Whether the encoder that the plan was made for is gone: on another computer, or after a change of its driver. */
export function useEncoderGone(): 'CPU' | 'GPU' | null {
  // As text: what it is made of is made anew with every edit.
  const wanted = useStore((now) => {
    const document = now.document();
    const plan = planInUse(document);
    const [main] = encodesInUse(document, plan);
    return plan && main && plan.encoder !== 'any' ? JSON.stringify(encodeValues(plan, main)) : '';
  });
  const [gone, setGone] = useState<'CPU' | 'GPU' | null>(null);
  useEffect(() => {
    let over = false;
    const look = async () => {
      if (wanted === '') return null;
      const values = JSON.parse(wanted) as Parameters<typeof chooseCodec>[0];
      const there = values.encoder === 'any' || (await chooseCodec(values)) !== null;
      return there ? null : WORDS[values.encoder as 'cpu' | 'gpu'];
    };
    void look().then((found) => !over && setGone(found));
    return () => {
      over = true;
    };
  }, [wanted]);
  return gone;
}
