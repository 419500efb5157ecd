import { outputSchema } from './schema.js';

console.log(JSON.stringify(outputSchema, null, 2));
