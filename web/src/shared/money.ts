import type { Site } from '@loka/contract/site';

/** An amount in the site's currency: "5.08 €". @param digits after the point, where a price needs more than cents */
export function money(amount: number, site: Pick<Site, 'currency'> | null, digits = 2): string {
  const currency = site?.currency ?? 'EUR';
  const sign =
    new Intl.NumberFormat('en-GB', { style: 'currency', currency, currencyDisplay: 'narrowSymbol' })
      .formatToParts(0)
      .find((p) => p.type === 'currency')?.value ?? currency;
  const text = amount.toFixed(digits).replace(/(\.\d\d)0$/, '$1');
  return `${Number(text) === 0 ? text.replace('-', '') : text.replace('-', '−')} ${sign}`;
}
