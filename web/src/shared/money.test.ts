import { money } from './money.js';

it.each([
  [5.084, 'EUR', 2, '5.08 €'],
  [0.21, 'EUR', 3, '0.21 €'],
  [0.2145, 'GBP', 3, '0.214 £'],
  [-3, 'USD', 2, '−3.00 $'],
  [-0.001, 'EUR', 2, '0.00 €'],
  [12, 'CHF', 2, '12.00 CHF'],
])('%d %s with %d digits', (amount, currency, digits, text) =>
  expect(money(amount, { currency }, digits)).toBe(text),
);
