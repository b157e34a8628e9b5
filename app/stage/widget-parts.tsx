import type { ComponentType } from 'react';
import type { WidgetSettings } from '~/core/audience/widgets/widgets';
import type { GoalRecord } from '~/core/show/audience-records';

export interface WidgetFieldsProps<W> {
  widget: W;
  goals: readonly GoalRecord[];
  onChange: (widget: W) => void;
}

/** What Stage has for one kind of widget; a kind without settings has none. */
export interface WidgetPart<W extends WidgetSettings = WidgetSettings> {
  of: W['of'];
  Fields: ComponentType<WidgetFieldsProps<W>>;
}

/** Each file in `widgets` is found by itself, so that another kind touches nothing here. */
const found = import.meta.glob<WidgetPart>('./widgets/*.tsx', { eager: true, import: 'part' });
const PARTS = new Map(Object.values(found).map((part) => [part.of, part]));

/** Settings of one widget. */
export function WidgetFields(props: WidgetFieldsProps<WidgetSettings>) {
  const Fields = PARTS.get(props.widget.of)?.Fields;
  return Fields ? <Fields {...props} /> : null;
}
