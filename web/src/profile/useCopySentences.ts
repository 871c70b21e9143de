import { copyText } from '../shared/copyText.js';
import { useNotices } from '../shared/notices.js';
import { textOf, type Sentence } from './parts.js';

/** Copies sentences as plain text, each with how it is known. */
export function useCopySentences(): (all: readonly Sentence[]) => void {
  const { say, attempt } = useNotices();
  return (all) =>
    void attempt(async () => {
      await copyText(all.map(textOf).join('\n'));
      say(all.length === 1 ? 'Copied.' : 'All of it is copied.');
    });
}
