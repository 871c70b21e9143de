import { asksSomething, NOTHING_ELSE, putQuestion, questionOf, type Question } from './question.js';

const through = (question: Partial<Question>): Question => {
  const search = new URLSearchParams('at=3&if=hours,1');
  putQuestion(search, { ...NOTHING_ELSE, ...question });
  expect(search.get('at')).toBe('3');
  return questionOf(search);
};

it('an address gives back what was put into it', () => {
  for (const question of [
    {},
    { change: 'standby' as const },
    { change: 'hours' as const, hours: 0 },
    { change: 'later' as const, hours: -2.5 },
    { change: 'instead' as const, instead: 12, times: 0.8 },
    { change: 'instead' as const },
    { roof: 8000, like: 5, likePeak: 9000, store: 10_000, storePower: 4000, storeEfficiency: 0.85 },
    { roof: 1 },
  ])
    expect(through(question)).toEqual({ ...NOTHING_ELSE, ...question });
});

it('what makes no sense is as usual', () => {
  const of = (text: string) => questionOf(new URLSearchParams(text));
  expect(of('if=everything,3')).toEqual(NOTHING_ELSE);
  expect(of('if=hours,many&roof=-3,x,y&store=NaN')).toEqual({ ...NOTHING_ELSE, change: 'hours' });
  expect(of('if=instead,-4,-1')).toEqual({ ...NOTHING_ELSE, change: 'instead' });
});

it('asks something as soon as something is to be different', () => {
  const asks = (question: Partial<Question>) => asksSomething({ ...NOTHING_ELSE, ...question });
  expect(asks({})).toBe(false);
  expect(asks({ change: 'instead' })).toBe(false);
  expect(asks({ change: 'instead', instead: 3 })).toBe(true);
  expect(asks({ change: 'standby' })).toBe(true);
  expect(asks({ roof: 1 })).toBe(true);
  expect(asks({ store: 1 })).toBe(true);
});
