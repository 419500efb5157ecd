// Laws are tried with other values in each run; LAW_SEED fixes which. A failure prints the seed that makes it again.
import fc from 'fast-check';

// Looking for the smallest example can take without end: where nobody waits for it, the seed is enough.
fc.configureGlobal({
  ...(process.env.LAW_SEED && { seed: Number(process.env.LAW_SEED) }),
  ...(process.env.CI && { endOnFailure: true }),
});
