import type { Locator, Page } from '@playwright/test';

/**
 * Types a date and a time into a field as a person does: part after part, each goes on to the next.
 * @param local "2026-11-03T11:20", with the seconds where the field has them
 */
export async function typeInstant(scope: Page | Locator, label: string, local: string): Promise<void> {
  const [day = '', clock = ''] = local.split('T');
  const [year = '', month = '', date = ''] = day.split('-');
  const field = scope.getByRole('group', { name: label, exact: true });
  await field.getByRole('spinbutton').first().click();
  await field.page().keyboard.type(`${date}${month}${year}${clock.replaceAll(':', '')}`);
}
