import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import type { GoalWidget } from '~/core/audience/widgets/kinds/goal';
import type { WidgetPart } from '../widget-parts';
import { useTranslation } from '../../words/words';

export const part: WidgetPart<GoalWidget> = {
  of: 'goal',
  Fields({ widget, goals, onChange }) {
    const { t } = useTranslation();
    return goals.length === 0 ? (
      <p style={{ color: 'var(--quiet)', margin: 0 }}>{t('kinds.thereIsNoGoalYet')}</p>
    ) : (
      <TextField
        select
        fullWidth
        label={t('kinds.goal')}
        value={goals.some((g) => g.id === widget.goalId) ? widget.goalId : ''}
        onChange={(e) => onChange({ ...widget, goalId: e.target.value })}
      >
        {goals.map((goal) => (
          <MenuItem key={goal.id} value={goal.id}>
            {goal.name}
          </MenuItem>
        ))}
      </TextField>
    );
  },
};
