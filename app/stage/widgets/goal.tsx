import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import type { GoalWidget } from '~/core/audience/widgets/kinds/goal';
import type { WidgetPart } from '../widget-parts';

export const part: WidgetPart<GoalWidget> = {
  of: 'goal',
  Fields({ widget, goals, onChange }) {
    return goals.length === 0 ? (
      <p style={{ color: 'var(--quiet)', margin: 0 }}>There is no goal yet: add one in Audience.</p>
    ) : (
      <TextField
        select
        fullWidth
        label="Goal"
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
