import { recipeSchema } from '@scalaria/core';
import { outputSchema } from './schema.js';

const RECIPE = {
  $schema: 'http://json-schema.org/draft-07/schema#',
  title: 'A recipe of Scalaria, version 2',
  ...recipeSchema,
};

console.log(JSON.stringify(process.argv[2] === 'recipe' ? RECIPE : outputSchema, null, 2));
