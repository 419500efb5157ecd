import type { ComponentType } from 'react';
import { Navigate, createBrowserRouter } from 'react-router';
import { JobsPage } from './routes/jobs-page';
import { NotFound } from './routes/not-found';

/** A page that is loaded when somebody goes there: the list of jobs needs nothing of the geometry. */
const late = <T,>(load: () => Promise<T>, page: (module: T) => ComponentType) => ({
  lazy: async (): Promise<{ Component: ComponentType }> => ({ Component: page(await load()) }),
  HydrateFallback: () => (
    <p className="p-6 text-quiet" role="status">
      opening …
    </p>
  ),
});

export const router = createBrowserRouter([
  { path: '/', element: <JobsPage />, errorElement: <NotFound /> },
  {
    path: '/jobs/:job',
    ...late(
      () => import('./routes/job-page'),
      (m) => m.JobPage,
    ),
  },
  {
    path: '/jobs/:job/parts',
    ...late(
      () => import('./routes/job-parts/parts-page'),
      (m) => m.PartsPage,
    ),
  },
  {
    path: '/jobs/:job/deliveries',
    ...late(
      () => import('./routes/deliveries/deliveries-page'),
      (m) => m.DeliveriesPage,
    ),
  },
  {
    path: '/jobs/:job/deliveries/new',
    ...late(
      () => import('./routes/deliveries/new-set'),
      (m) => m.NewSet,
    ),
  },
  {
    path: '/jobs/:job/deliveries/tracker',
    ...late(
      () => import('./routes/deliveries/tracker-page'),
      (m) => m.TrackerPage,
    ),
  },
  {
    path: '/jobs/:job/deliveries/corrections',
    ...late(
      () => import('./routes/deliveries/corrections-page'),
      (m) => m.CorrectionsPage,
    ),
  },
  {
    path: '/jobs/:job/deliveries/:set',
    ...late(
      () => import('./routes/deliveries/set-page'),
      (m) => m.SetPage,
    ),
  },
  {
    path: '/recipes',
    ...late(
      () => import('./routes/recipes/recipes-page'),
      (m) => m.RecipesPage,
    ),
  },
  {
    path: '/drawings/:drawing',
    ...late(
      () => import('./routes/drawing/drawing-page'),
      (m) => m.DrawingPage,
    ),
    children: [
      { index: true, element: <Navigate to="take-in" replace /> },
      {
        path: 'take-in',
        ...late(
          () => import('./routes/drawing/take-in'),
          (m) => m.TakeIn,
        ),
      },
      {
        path: 'revisions',
        ...late(
          () => import('./routes/drawing/revisions'),
          (m) => m.Revisions,
        ),
      },
      {
        path: 'parts',
        ...late(
          () => import('./routes/drawing/parts-view'),
          (m) => m.PartsInDrawing,
        ),
      },
      {
        path: 'check',
        ...late(
          () => import('./routes/drawing/check'),
          (m) => m.Check,
        ),
      },
      {
        path: 'prepare',
        ...late(
          () => import('./routes/drawing/prepare/prepare'),
          (m) => m.Prepare,
        ),
      },
      {
        path: 'deliver',
        ...late(
          () => import('./routes/drawing/deliver'),
          (m) => m.Deliver,
        ),
      },
      {
        path: 'trials',
        ...late(
          () => import('./routes/drawing/trials/trials'),
          (m) => m.Trials,
        ),
      },
      {
        path: 'prove/:delivery?',
        ...late(
          () => import('./routes/drawing/prove'),
          (m) => m.Prove,
        ),
      },
    ],
  },
  { path: '*', element: <NotFound /> },
]);
