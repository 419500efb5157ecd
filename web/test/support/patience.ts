import { configure } from '@testing-library/react';

// Whoever waits for something to appear waits for it on a slow machine too; what never comes fails all the same.
configure({ asyncUtilTimeout: 10_000 });
