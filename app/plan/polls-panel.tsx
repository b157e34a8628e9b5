import AddRounded from '@mui/icons-material/AddRounded';
import CloseRounded from '@mui/icons-material/CloseRounded';
import Button from '@mui/material/Button';
import { recordsOf } from '~/core/show/document';
import type { PollRecord } from '~/core/show/rundown-records';
import { CommitField } from '../studio/commit-field';
import { NumberField } from '../studio/number-field';
import { SmallButton } from '../studio/small-button';
import { useBus, useDesk, useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

const MOST_ANSWERS = 8;

/** Questions to the viewers, with what they write for each answer, and the votes of the one that runs. */
export function PollsPanel() {
  const { store, showId } = useStudio();
  const polls = recordsOf(useDocument(), 'poll');
  const { t } = useTranslation();
  return (
    <div className="plan-fields">
      <p className="hint">{t('plan.pollsHint')}</p>
      {polls.map((poll) => (
        <Poll key={poll.id} poll={poll} />
      ))}
      <div className="plan-head">
        <Button
          startIcon={<AddRounded />}
          onClick={() =>
            store.edit('Add poll', [
              {
                kind: 'poll',
                id: crypto.randomUUID(),
                showId,
                name: t('plan.newPoll'),
                position: (polls.at(-1)?.position ?? -1) + 1,
                answers: [1, 2].map((n) => ({ label: t('plan.answer', { n }), words: '' })),
                seconds: 0,
              },
            ])
          }
        >
          {t('plan.addPoll')}
        </Button>
      </div>
    </div>
  );
}

function Poll({ poll }: { poll: PollRecord }) {
  const { store, control, say } = useStudio();
  const { t } = useTranslation();
  const running = useDesk(
    ({ programme }) => programme.poll?.pollId === poll.id && programme.poll.endedMs === null,
  );
  const result = useBus((now) => (now.ownPoll?.pollId === poll.id ? now.ownPoll : null));
  const set = (what: string, part: Partial<PollRecord>) =>
    store.edit(`${what} of ${poll.name}`, [{ ...poll, ...part }]);
  const press = (command: 'poll' | 'endPoll') =>
    void control
      .press(command === 'poll' ? { command, params: { pollId: poll.id } } : { command, params: {} }, 'page')
      .then((problem) => problem && say(problem));
  return (
    <section aria-label={poll.name} className="cue">
      <div className="press-line">
        <CommitField
          label={t('plan.question')}
          value={poll.name}
          onCommit={(name) => set('Question', { name })}
        />
        <SmallButton
          label={t('plan.removePoll', { name: poll.name })}
          onClick={() => store.edit(`Remove ${poll.name}`, [], [poll.id])}
        >
          <CloseRounded />
        </SmallButton>
      </div>
      {poll.answers.map((answer, i) => {
        const put = (part: Partial<typeof answer>) =>
          set('Answers', { answers: poll.answers.map((one, at) => (at === i ? { ...one, ...part } : one)) });
        return (
          <div key={i} className="poll-answer">
            <CommitField
              label={t('plan.answer', { n: i + 1 })}
              value={answer.label}
              max={80}
              onCommit={(label) => put({ label })}
            />
            <CommitField
              label={t('plan.answerWords', { n: i + 1 })}
              value={answer.words}
              max={200}
              allowEmpty
              onCommit={(words) => put({ words })}
            />
            <span className="figure quiet">
              {result ? t('plan.votes', { count: result.options[i]?.votes ?? 0 }) : ''}
            </span>
            <SmallButton
              label={t('plan.removeAnswer', { n: i + 1 })}
              disabled={poll.answers.length <= 2}
              onClick={() => set('Answers', { answers: poll.answers.filter((_, at) => at !== i) })}
            >
              <CloseRounded />
            </SmallButton>
          </div>
        );
      })}
      <div className="plan-head">
        <Button
          disabled={poll.answers.length >= MOST_ANSWERS}
          onClick={() =>
            set('Answers', {
              answers: [
                ...poll.answers,
                { label: t('plan.answer', { n: poll.answers.length + 1 }), words: '' },
              ],
            })
          }
        >
          {t('plan.addAnswer')}
        </Button>
        <div className="poll-seconds">
          <NumberField
            label={t('plan.pollSeconds')}
            unit="s"
            min={0}
            max={3600}
            step={10}
            value={poll.seconds}
            onCommit={(seconds) => set('Length', { seconds })}
          />
        </div>
        <Button onClick={() => press(running ? 'endPoll' : 'poll')} aria-pressed={running}>
          {t(running ? 'plan.endPoll' : 'plan.startPoll')}
        </Button>
      </div>
    </section>
  );
}
