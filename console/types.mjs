/* The types of what the API answers, made from the OpenAPI document. */
import { readFileSync, writeFileSync } from 'node:fs';
import openapiTS, { astToString } from 'openapi-typescript';

const HEADER = '/* Made from openapi.json by scripts/types; do not edit. */\n\n';

export const made = async () => {
  const { openapi, info, components } = JSON.parse(readFileSync('openapi.json', 'utf8'));
  return HEADER + astToString(await openapiTS({ openapi, info, paths: {}, components: { schemas: components.schemas } }));
};

if (process.argv[2]) writeFileSync(process.argv[2], await made());
