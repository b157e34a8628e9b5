import type { AlertRuleRecord } from '../../core/show/audience-records';
import { assetUrl } from '../asset-url';
import { LazySource } from './sources/lazy-source';
import { PictureFileSource } from './sources/picture-file-source';
import type { PictureSource } from './sources/picture-source';

/** Pictures of the alert rules, open before they are needed: an alert must not wait for its file. */
export class AlertPictures {
  readonly #open = new Map<string, { assetId: string; source: PictureSource }>();

  setRules(rules: readonly AlertRuleRecord[]): void {
    const wanted = new Map(rules.flatMap((rule) => (rule.picture ? [[rule.id, rule.picture] as const] : [])));
    for (const [id, { assetId, source }] of this.#open)
      if (wanted.get(id)?.assetId !== assetId) {
        source.close();
        this.#open.delete(id);
      }
    for (const [id, picture] of wanted)
      if (!this.#open.has(id)) this.#open.set(id, { assetId: picture.assetId, source: open(picture) });
  }

  of(ruleId: string): PictureSource | null {
    return this.#open.get(ruleId)?.source ?? null;
  }

  /** A clip begins with its alert. */
  begin(rule: AlertRuleRecord, seconds: number): void {
    const source = this.of(rule.id);
    source?.setOnAir?.(false, seconds);
    source?.setOnAir?.(true, seconds);
  }

  get caughtUp(): boolean {
    return [...this.#open.values()].every(({ source }) => source.caughtUp ?? true);
  }

  advance(seconds: number): void {
    for (const { source } of this.#open.values()) source.advance(seconds);
  }
}

function open({ assetId, name, as }: NonNullable<AlertRuleRecord['picture']>): PictureSource {
  switch (as) {
    case 'picture':
      return new PictureFileSource(assetUrl(assetId), true);
    case 'lottie':
      return new LazySource(async () => {
        const module = await import('./sources/lottie-source');
        return new module.LottieSource(assetUrl(assetId), true, 1);
      });
    case 'clip':
      return new LazySource(async () => {
        const module = await import('./sources/clips-source');
        return new module.ClipsSource(
          [{ name, url: assetUrl(assetId) }],
          { order: 'listed', atEnd: 'loop', start: 'on-air' },
          () => {},
        );
      });
  }
}
