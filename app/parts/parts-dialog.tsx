import Dialog from '@mui/material/Dialog';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import { useTranslation } from '../words/words';
import { ChooseParts } from './choose-parts';
import { ChooseSource } from './choose-source';
import { MakeKit } from './make-kit';
import type { Source } from './source';

type Step = { at: 'source' } | { at: 'choose'; source: Source } | { at: 'make' };

/** Takes parts over from another show or a kit, and makes kits. */
export function PartsDialog({ onClose }: { onClose: () => void }) {
  const { t } = useTranslation();
  const [step, setStep] = useState<Step>({ at: 'source' });
  const title =
    step.at === 'choose'
      ? t('parts.chooseTitle', { name: step.source.name })
      : t(step.at === 'make' ? 'parts.makeTitle' : 'parts.title');
  return (
    <Dialog
      open
      onClose={onClose}
      maxWidth="sm"
      fullWidth
      aria-labelledby="parts-title"
      onKeyDown={(e) => e.stopPropagation()}
    >
      <DialogTitle id="parts-title">{title}</DialogTitle>
      {step.at === 'source' && (
        <ChooseSource
          onChosen={(source) => setStep({ at: 'choose', source })}
          onMake={() => setStep({ at: 'make' })}
          onClose={onClose}
        />
      )}
      {step.at === 'choose' && (
        <ChooseParts source={step.source} onBack={() => setStep({ at: 'source' })} onClose={onClose} />
      )}
      {step.at === 'make' && <MakeKit onBack={() => setStep({ at: 'source' })} onClose={onClose} />}
    </Dialog>
  );
}
