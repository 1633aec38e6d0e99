/** What a trial or round says in one word; a listener that is only knocked at answers, and proves no more. */
export const verdict = (t: { proven: boolean | null; shows: string }, open: string) =>
  t.proven === null ? open : t.proven ? t.shows : t.shows === 'proven' ? 'not proven' : 'does not answer';
