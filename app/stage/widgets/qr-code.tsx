import type { QrCodeWidget } from '~/core/audience/widgets/kinds/qr-code';
import { CommitField } from '../../studio/commit-field';
import { useTranslation } from '../../words/words';
import type { WidgetFieldsProps, WidgetPart } from '../widget-parts';

export const part: WidgetPart<QrCodeWidget> = { of: 'qrCode', Fields: QrCodeFields };

function QrCodeFields({ widget, onChange }: WidgetFieldsProps<QrCodeWidget>) {
  const { t } = useTranslation();
  return (
    <div className="field-stack">
      <CommitField
        label={t('qrCode.text')}
        help={t('qrCode.hint')}
        value={widget.text}
        max={600}
        allowEmpty
        onCommit={(text) => onChange({ ...widget, text })}
      />
      <CommitField
        label={t('qrCode.below')}
        value={widget.below}
        max={80}
        allowEmpty
        onCommit={(below) => onChange({ ...widget, below })}
      />
    </div>
  );
}
