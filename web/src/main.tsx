import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { RouterProvider } from 'react-router/dom';
import { SWRConfig } from 'swr';
import { getJson } from './api/client';
import { GroundProvider } from './parts/ground';
import { ActionsProvider } from './parts/actions';
import { NoticeProvider } from './parts/notice';
import { ViewSettingsProvider } from './viewport/view-settings';
import { router } from './router';
import './theme.css';

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <SWRConfig value={{ fetcher: getJson, revalidateOnFocus: false, shouldRetryOnError: false }}>
      <GroundProvider>
        <NoticeProvider>
          <ActionsProvider>
            <ViewSettingsProvider>
              <RouterProvider router={router} />
            </ViewSettingsProvider>
          </ActionsProvider>
        </NoticeProvider>
      </GroundProvider>
    </SWRConfig>
  </StrictMode>,
);
