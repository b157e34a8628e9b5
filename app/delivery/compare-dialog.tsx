import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { comparePlans } from '~/core/delivery/compare-plans';
import { recordsOf } from '~/core/show/document';
import { useDocument } from '../studio/studio-context';
import { useTranslation } from '../words/words';

/** All plans beside each other; what they differ in stands out. */
export function CompareDialog({
  inUse,
  onUse,
  onClose,
}: {
  inUse: string;
  onUse: (planId: string) => void;
  onClose: () => void;
}) {
  const { t } = useTranslation();
  const document = useDocument();
  const plans = recordsOf(document, 'plan');
  const cell = { padding: '7px 10px', textAlign: 'left', verticalAlign: 'top', fontSize: 13 } as const;
  return (
    <Dialog open onClose={onClose} maxWidth="lg">
      <DialogTitle>{t('delivery.comparePlans')}</DialogTitle>
      <DialogContent>
        <table style={{ borderCollapse: 'collapse', minWidth: 420 }}>
          <thead>
            <tr>
              <td style={cell} />
              {plans.map((plan) => (
                <th key={plan.id} scope="col" style={{ ...cell, fontSize: 14, minWidth: 150, maxWidth: 260 }}>
                  {plan.name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {comparePlans(document, plans).map((row) => (
              <tr key={row.name} style={{ borderTop: '1px solid var(--line)' }}>
                <th scope="row" style={{ ...cell, color: 'var(--quiet)', fontWeight: 500 }}>
                  {row.name}
                </th>
                {row.values.map((value, i) => (
                  <td
                    key={plans[i].id}
                    style={{
                      ...cell,
                      maxWidth: 260,
                      color: row.differs ? 'var(--text)' : 'var(--quiet)',
                      fontWeight: row.differs ? 600 : 400,
                    }}
                  >
                    {value}
                  </td>
                ))}
              </tr>
            ))}
            <tr style={{ borderTop: '1px solid var(--line)' }}>
              <td style={cell} />
              {plans.map((plan) => (
                <td key={plan.id} style={cell}>
                  <Button
                    disabled={plan.id === inUse}
                    onClick={() => onUse(plan.id)}
                    sx={{ bgcolor: 'var(--ground)' }}
                  >
                    {plan.id === inUse ? t('delivery.inUse') : t('delivery.useName', { name: plan.name })}
                  </Button>
                </td>
              ))}
            </tr>
          </tbody>
        </table>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>{t('delivery.close')}</Button>
      </DialogActions>
    </Dialog>
  );
}
