import { expect, test } from 'vitest';
import { startWidget, WIDGET_NAMES, WIDGETS } from '../core/audience/widgets/widgets';
import { widgetSchema } from './widget-schemas';

test.each(WIDGET_NAMES)('%s: what a new one is set to may come from outside, and nothing beside it', (of) => {
  const widget = startWidget(of, 'roof');
  expect(widget.of).toBe(of);
  expect(widgetSchema.validate(widget, { convert: false }).error).toBeUndefined();
  expect(widgetSchema.validate({ ...widget, more: 1 }).error).toBeDefined();
  for (const field of Object.keys(WIDGETS[of].shape)) {
    const without: Record<string, unknown> = { ...widget };
    delete without[field];
    expect(widgetSchema.validate(without).error, field).toBeDefined();
  }
});
