/** Money as exact minor units of a currency of ISO 4217. */

export interface Money {
  /** Three capital letters. */
  currency: string;
  /** Cents, or whatever the smallest unit is: a whole number, never a fraction. */
  minor: number;
}

/** Largest amount that is believed, in minor units: above it, sums of an evening would lose their last digit. */
export const MAX_MINOR = 1_000_000_000_00;

const known = new Set(Intl.supportedValuesOf('currency'));

export function isCurrency(code: string): boolean {
  return known.has(code);
}

const exponents = new Map<string, number>();

/** Digits behind the point of a currency: 2 for most, 0 or 3 for some (ISO 4217 exponent). */
export function minorDigits(currency: string): number {
  // Asked for with every amount, and a format takes as long to make as all else that is done with one.
  let digits = exponents.get(currency);
  if (digits === undefined) {
    const { maximumFractionDigits } = new Intl.NumberFormat('en', {
      style: 'currency',
      currency,
    }).resolvedOptions();
    digits = maximumFractionDigits ?? 2;
    if (isCurrency(currency)) exponents.set(currency, digits);
  }
  return digits;
}

/**
 * Exact minor units of an amount written in decimals, such as `12.50`.
 * @returns null when it is no plain decimal number, has more digits than the currency, or is beyond `MAX_MINOR`
 */
export function minorOfDecimal(text: string, currency: string): number | null {
  const match = /^(\d{1,12})(?:\.(\d{1,6}))?$/.exec(text.trim());
  if (!match || !isCurrency(currency)) return null;
  const digits = minorDigits(currency);
  const fraction = (match[2] ?? '').replace(/0+$/, '');
  if (fraction.length > digits) return null;
  const minor = Number(match[1] + fraction.padEnd(digits, '0'));
  return minor <= MAX_MINOR ? minor : null;
}

/** Decimal digits of an amount, without the currency: `1250` of EUR is `12.50`. */
export function decimalOfMinor({ currency, minor }: Money): string {
  const digits = minorDigits(currency);
  const text = String(Math.abs(minor)).padStart(digits + 1, '0');
  const sign = minor < 0 ? '−' : '';
  return digits === 0 ? sign + text : `${sign}${text.slice(0, -digits)}.${text.slice(-digits)}`;
}

const formats = new Map<string, Intl.NumberFormat>();

/** As viewers read it: `€12.50`; whole amounts without `.00`. */
export function moneyText({ currency, minor }: Money): string {
  const digits = minorDigits(currency);
  const whole = minor % 10 ** digits === 0;
  const key = `${currency}${whole}`;
  let format = formats.get(key);
  if (!format) {
    format = new Intl.NumberFormat('en-GB', {
      style: 'currency',
      currency,
      minimumFractionDigits: whole ? 0 : digits,
    });
    formats.set(key, format);
  }
  return format.format(minor / 10 ** digits);
}

/** How much one main unit of another currency is worth in main units of the show's own. */
export type Rates = Readonly<Record<string, number>>;

/** In minor units of `currency`, rounded; null when no rate is known. */
export function minorIn(money: Money, currency: string, rates: Rates): number | null {
  if (money.currency === currency) return money.minor;
  const rate = rates[money.currency];
  if (rate === undefined) return null;
  const major = money.minor / 10 ** minorDigits(money.currency);
  return Math.round(major * rate * 10 ** minorDigits(currency));
}
