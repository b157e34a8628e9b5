import ListSubheader from '@mui/material/ListSubheader';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import {
  COMMAND_GROUPS,
  COMMAND_IDS,
  COMMANDS,
  commandShape,
  type CommandId,
  type ParamType,
  type ParamValue,
  type Press,
} from '~/core/commands/commands';
import { recordsOf, type ShowDocument } from '~/core/show/document';
import { FADER_MAX_DB, FADER_MIN_DB } from '~/core/sound/decibel';
import { CommitField } from '../studio/commit-field';
import { NumberField } from '../studio/number-field';
import { useDocument } from '../studio/studio-context';
import { useTranslation } from '../words/words';

interface Choice {
  id: string;
  name: string;
}

/** What a parameter that names a record can be. */
function choicesOf(document: ShowDocument, param: ParamType): Choice[] | null {
  const of = (list: readonly Choice[]) => list.map(({ id, name }) => ({ id, name }));
  switch (param) {
    case 'sceneId':
      return of(recordsOf(document, 'scene'));
    case 'poseId':
      return recordsOf(document, 'scene').flatMap((scene) =>
        recordsOf(document, 'pose')
          .filter((pose) => pose.sceneId === scene.id)
          .map(({ id, name }) => ({ id, name: `${scene.name} · ${name}` })),
      );
    case 'channelId':
      return of(recordsOf(document, 'channel'));
    case 'musicId':
      return of(recordsOf(document, 'channel').filter(({ source }) => source.type === 'music'));
    case 'effectId':
      return of(recordsOf(document, 'effect'));
    case 'segmentId':
      return of(recordsOf(document, 'segment'));
    case 'titleId':
      return of(recordsOf(document, 'title'));
    case 'cueId':
      return of(recordsOf(document, 'cue'));
    case 'requestId':
      return of(recordsOf(document, 'request'));
    case 'clipsId':
      return of(recordsOf(document, 'input').filter(({ source }) => source.type === 'clips'));
    case 'seatId':
      return of(recordsOf(document, 'input').filter(({ source }) => source.type === 'seat'));
    case 'pollId':
      return of(recordsOf(document, 'poll'));
    default:
      return null;
  }
}

/** What a parameter begins with; null when there is nothing it could be. */
function firstValue(document: ShowDocument, param: ParamType): ParamValue | null {
  const choices = choicesOf(document, param);
  if (choices) return choices[0]?.id ?? null;
  return FIRST_VALUES[param] ?? '';
}

/** Of parameters that name no record. */
const FIRST_VALUES: Partial<Record<ParamType, ParamValue>> = {
  ...{ gainDb: -9, seconds: 1, toSeconds: -10, on: true, share: 1, transition: 'own' },
};

/** Whether everything a command needs is in the show. */
export const canPress = (document: ShowDocument, command: CommandId): boolean =>
  commandShape(command).required.every((param) => firstValue(document, param) !== null);

export function newPress(document: ShowDocument, command: CommandId): Press {
  const params: Press['params'] = {};
  for (const param of commandShape(command).required) params[param] = firstValue(document, param) ?? '';
  return { command, params };
}

/** A command and what it is for. */
export function PressFields({ press, onChange }: { press: Press; onChange: (press: Press) => void }) {
  const { t } = useTranslation();
  const document = useDocument();
  const { required, optional } = commandShape(press.command);
  const set = (param: ParamType, value: ParamValue | undefined) => {
    const params = { ...press.params, [param]: value };
    if (value === undefined) delete params[param];
    onChange({ ...press, params });
  };
  return (
    <div className="press-fields">
      <TextField
        select
        label={t('keys.command')}
        value={press.command}
        onChange={(event) => onChange(newPress(document, event.target.value as CommandId))}
        slotProps={{ select: { MenuProps: { slotProps: { paper: { sx: { maxHeight: 420 } } } } } }}
      >
        {COMMAND_GROUPS.flatMap((group) => [
          <ListSubheader key={group}>{t(`groups.${group}`)}</ListSubheader>,
          ...COMMAND_IDS.filter(
            (id) => COMMANDS[id].group === group && (id === press.command || canPress(document, id)),
          ).map((id) => (
            <MenuItem key={id} value={id}>
              {t(`commands.${id}.0`)}
            </MenuItem>
          )),
        ])}
      </TextField>
      {[...required, ...optional].map((param) => (
        <ParamField
          key={param}
          param={param}
          value={press.params[param]}
          optional={!required.includes(param)}
          choices={choicesOf(document, param)}
          onChange={(value) => set(param, value)}
        />
      ))}
    </div>
  );
}

function ParamField({
  param,
  value,
  optional,
  choices,
  onChange,
}: {
  param: ParamType;
  value: ParamValue | undefined;
  optional: boolean;
  choices: Choice[] | null;
  onChange: (value: ParamValue | undefined) => void;
}) {
  const { t } = useTranslation();
  const label = t(`params.${param}`);
  if (choices)
    return (
      <TextField select label={label} value={value ?? ''} onChange={(event) => onChange(event.target.value)}>
        {!choices.some(({ id }) => id === value) && (
          <MenuItem value={String(value ?? '')}>{t('params.gone')}</MenuItem>
        )}
        {choices.map(({ id, name }) => (
          <MenuItem key={id} value={id}>
            {name}
          </MenuItem>
        ))}
      </TextField>
    );
  switch (param) {
    case 'gainDb':
      return (
        <NumberField
          label={label}
          unit="dB"
          digits={1}
          min={FADER_MIN_DB}
          max={FADER_MAX_DB}
          value={Number(value ?? 0)}
          onCommit={onChange}
        />
      );
    case 'share':
      return (
        <NumberField
          label={label}
          unit=""
          digits={2}
          step={0.1}
          min={0}
          max={1}
          value={Number(value ?? 1)}
          onCommit={onChange}
        />
      );
    case 'seconds':
      return (
        <NumberField
          label={label}
          unit="s"
          digits={1}
          min={0}
          max={3600}
          value={Number(value ?? 0)}
          onCommit={(seconds) => onChange(optional && seconds === 0 ? undefined : seconds)}
        />
      );
    case 'toSeconds':
      return (
        <NumberField
          label={label}
          unit="s"
          digits={1}
          min={-86_400}
          max={86_400}
          value={Number(value ?? 0)}
          onCommit={onChange}
        />
      );
    case 'on':
      return (
        <TextField
          select
          label={label}
          value={value === undefined ? 'toggle' : String(value)}
          onChange={({ target }) => onChange(target.value === 'toggle' ? undefined : target.value === 'true')}
        >
          <MenuItem value="toggle">{t('params.toggle')}</MenuItem>
          <MenuItem value="true">{t('params.turnOn')}</MenuItem>
          <MenuItem value="false">{t('params.turnOff')}</MenuItem>
        </TextField>
      );
    case 'transition':
      return (
        <TextField
          select
          label={label}
          value={value ?? 'own'}
          onChange={({ target }) => onChange(target.value === 'own' ? undefined : target.value)}
        >
          {(['own', 'cut', 'fade'] as const).map((way) => (
            <MenuItem key={way} value={way}>
              {t(`params.${way}`)}
            </MenuItem>
          ))}
        </TextField>
      );
    default:
      return (
        <CommitField
          label={label}
          value={String(value ?? '')}
          allowEmpty
          max={200}
          onCommit={(words) => onChange(words === '' ? undefined : words)}
        />
      );
  }
}
