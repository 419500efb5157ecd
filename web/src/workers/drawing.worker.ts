import * as Comlink from 'comlink';
import { asking } from './asking';
import { checking } from './checking';
import { forecasting } from './forecasting';
import { partViews } from './part-views';
import { previewing } from './previewing';
import { scenes } from './scenes';
import { takingIn } from './taking-in';
import { yardsticks } from './yardsticks';

/** Reads, prepares, checks and cuts a drawing away from the page. One worker holds one drawing. */
const api = {
  ...takingIn,
  ...scenes,
  ...checking,
  ...asking,
  ...forecasting,
  ...previewing,
  ...partViews,
  ...yardsticks,
};

export type DrawingWorker = typeof api;
Comlink.expose(api);
