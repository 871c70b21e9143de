import GlobalStyles from '@mui/material/GlobalStyles';
import { ThemeProvider } from '@mui/material/styles';
import { AdapterLuxon } from '@mui/x-date-pickers/AdapterLuxon';
import { LocalizationProvider } from '@mui/x-date-pickers/LocalizationProvider';
import { lazy, Suspense, useEffect } from 'react';
import { createBrowserRouter, createRoutesFromElements, Navigate, Route } from 'react-router';
import { RouterProvider } from 'react-router/dom';
import { useSWRConfig } from 'swr';
import { forgetUnused } from './api/forget.js';
import { openLive } from './api/live.js';
import { FailedScreen } from './frame/FailedScreen.js';
import { Frame } from './frame/Frame.js';
import { NoticesProvider } from './shared/notices.js';
import { LoadingState } from './shared/states.js';
import { theme } from './theme/theme.js';
import { cssVariables, DARK, LIGHT } from './theme/tokens.js';

// Each work area is loaded when it is first opened; charts come with the areas that draw them.
const BoardPage = lazy(() => import('./board/BoardPage.js'));
const FieldPage = lazy(() => import('./devices/FieldPage.js'));
const MapPage = lazy(() => import('./registers/MapPage.js'));
const MessageMapPage = lazy(() => import('./messages/MessageMapPage.js'));
const TopicsPage = lazy(() => import('./messages/TopicsPage.js'));
const SearchPage = lazy(() => import('./search/SearchPage.js'));
const MovesPage = lazy(() => import('./moves/MovesPage.js'));
const FitPage = lazy(() => import('./fit/FitPage.js'));
const PlansPage = lazy(() => import('./plans/PlansPage.js'));
const BenchPage = lazy(() => import('./bench/BenchPage.js'));
const ProfilesPage = lazy(() => import('./profile/ProfilesPage.js'));
const ReportPage = lazy(() => import('./report/ReportPage.js'));
const KeptReportPage = lazy(() => import('./report/KeptReportPage.js'));
const BalancePage = lazy(() => import('./balance/BalancePage.js'));
const DashboardsPage = lazy(() => import('./dashboards/DashboardsPage.js'));
const WallPage = lazy(() => import('./dashboards/WallPage.js'));
const AlertsPage = lazy(() => import('./alerts/AlertsPage.js'));
const ControlPage = lazy(() => import('./control/ControlPage.js'));
const SettingsPage = lazy(() => import('./site/SettingsPage.js'));

const router = createBrowserRouter(
  createRoutesFromElements(
    <Route errorElement={<FailedScreen />}>
      <Route
        path="/wall"
        element={
          <Suspense fallback={<LoadingState />}>
            <WallPage />
          </Suspense>
        }
      />
      <Route element={<Frame />}>
        <Route path="/board" element={<BoardPage />} />
        <Route path="/field" element={<FieldPage />} />
        <Route path="/field/map/:mapId" element={<MapPage />} />
        <Route path="/field/topics/:linkId" element={<TopicsPage />} />
        <Route path="/field/messages/:mapId" element={<MessageMapPage />} />
        <Route path="/field/search" element={<SearchPage />} />
        <Route path="/field/moves" element={<MovesPage />} />
        <Route path="/field/fit/:nodeId" element={<FitPage />} />
        <Route path="/field/plans" element={<PlansPage />} />
        <Route path="/field/plans/:id" element={<PlansPage />} />
        <Route path="/bench" element={<BenchPage />} />
        <Route path="/profiles" element={<ProfilesPage />} />
        <Route path="/report" element={<ReportPage />} />
        <Route path="/report/:id" element={<KeptReportPage />} />
        <Route path="/balance" element={<BalancePage />} />
        <Route path="/dashboards" element={<DashboardsPage />} />
        <Route path="/dashboards/:key" element={<DashboardsPage />} />
        <Route path="/alerts" element={<AlertsPage />} />
        <Route path="/control" element={<ControlPage />} />
        <Route path="/settings" element={<SettingsPage />} />
        <Route path="*" element={<Navigate to="/board" replace />} />
      </Route>
    </Route>,
  ),
);

export function App() {
  useEffect(openLive, []);
  const { cache } = useSWRConfig();
  useEffect(() => {
    const timer = setInterval(() => forgetUnused(cache, Date.now()), 60_000);
    return () => clearInterval(timer);
  }, [cache]);
  return (
    <ThemeProvider theme={theme}>
      <GlobalStyles
        styles={{
          ':root': cssVariables(LIGHT),
          '[data-sheet="dark"]': cssVariables(DARK),
          '[data-sheet="light"]': cssVariables(LIGHT),
          // Paper is light.
          '@media print': { ':root, [data-sheet="dark"]': cssVariables(LIGHT) },
        }}
      />
      <LocalizationProvider dateAdapter={AdapterLuxon} adapterLocale="en-GB">
        <NoticesProvider>
          {/* Without transitions: live values would hold a transition up, and a click meant for what was chosen would meet
            what was there before. */}
          <RouterProvider router={router} useTransitions={false} />
        </NoticesProvider>
      </LocalizationProvider>
    </ThemeProvider>
  );
}
