import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { made } from '../types.mjs';

it('the types are those of the OpenAPI document: else run scripts/types', async () => {
  expect(readFileSync('src/lib/answers.d.ts', 'utf8')).toBe(await made());
});
