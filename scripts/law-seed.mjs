// Laws are tried with other values in each run; LAW_SEED fixes which. A failure prints the seed that makes it again.
import fc from 'fast-check';

if (process.env.LAW_SEED) fc.configureGlobal({ seed: Number(process.env.LAW_SEED) });
