import copy from 'copy-to-clipboard';

/**
 * Copies a text, also where Loka is reached without TLS and browsers keep their clipboard to themselves.
 * @throws Error when the browser does not allow it
 */
export async function copyText(text: string): Promise<void> {
  if (!(await copy(text))) throw new Error('The browser did not allow Loka to copy this.');
}
