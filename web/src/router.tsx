import { Navigate, createBrowserRouter } from 'react-router';
import { JobsPage } from './routes/jobs-page';
import { JobPage } from './routes/job-page';
import { NotFound } from './routes/not-found';
import { DrawingPage } from './routes/drawing/drawing-page';
import { TakeIn } from './routes/drawing/take-in';
import { Check } from './routes/drawing/check';
import { Prepare } from './routes/drawing/prepare';
import { Deliver } from './routes/drawing/deliver';
import { Revisions } from './routes/drawing/revisions';
import { Prove } from './routes/drawing/prove';

export const router = createBrowserRouter([
  { path: '/', element: <JobsPage />, errorElement: <NotFound /> },
  { path: '/jobs/:job', element: <JobPage /> },
  {
    path: '/drawings/:drawing',
    element: <DrawingPage />,
    children: [
      { index: true, element: <Navigate to="take-in" replace /> },
      { path: 'take-in', element: <TakeIn /> },
      { path: 'revisions', element: <Revisions /> },
      { path: 'check', element: <Check /> },
      { path: 'prepare', element: <Prepare /> },
      { path: 'deliver', element: <Deliver /> },
      { path: 'prove/:delivery?', element: <Prove /> },
    ],
  },
  { path: '*', element: <NotFound /> },
]);
